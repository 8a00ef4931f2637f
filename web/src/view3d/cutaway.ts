/** The bodies' material: where they are cut away, their inside shows in the colour of a section, with a hint of their own. */
import { MeshLambertMaterial } from 'three'

export function cutawayMaterial(): MeshLambertMaterial {
  const material = new MeshLambertMaterial()
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <dithering_fragment>',
      '#include <dithering_fragment>\n  if (!gl_FrontFacing) gl_FragColor = vec4(mix(vec3(0.96, 0.87, 0.68), diffuse, 0.45), gl_FragColor.a);',
    )
  }
  return material
}
