/** The bodies' material: where they are cut away, their inside shows in the colour of a section. */
import { MeshLambertMaterial } from 'three'

export function cutawayMaterial(): MeshLambertMaterial {
  const material = new MeshLambertMaterial()
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <dithering_fragment>',
      '#include <dithering_fragment>\n  if (!gl_FrontFacing) gl_FragColor = vec4(0.86, 0.7, 0.46, gl_FragColor.a);',
    )
  }
  return material
}
