/** The bodies' material: where they are cut away, their inside shows in the colour of a section, with a hint of their own; and
 * they can be hatched, in stripes on the screen, so that a state is not told by colour alone. */
import { MeshLambertMaterial } from 'three'

export class BodyMaterial extends MeshLambertMaterial {
  /** which hatch, by its number (see api/states.ts); 0 for none */
  readonly hatch = { value: 0 }
}

const HATCH = `
  if (hatch > 0) {
    vec2 at = gl_FragCoord.xy;
    float rising = step(mod(at.x - at.y, 8.0), 1.6), falling = step(mod(at.x + at.y, 8.0), 1.6);
    float level = step(mod(at.y, 6.0), 1.4), upright = step(mod(at.x, 6.0), 1.4);
    float dots = step(length(mod(at, 7.0) - 3.5), 1.4);
    float ink = hatch == 1 ? rising : hatch == 2 ? falling : hatch == 3 ? level : hatch == 4 ? upright
      : hatch == 5 ? max(rising, falling) : dots;
    gl_FragColor.rgb = mix(gl_FragColor.rgb, vec3(0.17, 0.145, 0.13), 0.42 * ink);
  }`

export function cutawayMaterial(): BodyMaterial {
  const material = new BodyMaterial()
  material.onBeforeCompile = (shader) => {
    shader.uniforms['hatch'] = material.hatch
    shader.fragmentShader = `uniform int hatch;\n${shader.fragmentShader}`
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <dithering_fragment>',
      '#include <dithering_fragment>\n  if (!gl_FrontFacing) gl_FragColor = vec4(mix(vec3(0.96, 0.87, 0.68), diffuse, 0.45), gl_FragColor.a);' +
        HATCH,
    )
  }
  return material
}
