/** The bodies' material: where they are cut away, their inside shows in the colour of a section, with a hint of their own; they
 * can be hatched, in stripes on the screen, so that a state is not told by colour alone; and what lies beyond a plane can have
 * another colour, with an ink line along it. */
import { Color, MeshLambertMaterial, Vector4 } from 'three'
import type { Split } from './livePieces'

export class BodyMaterial extends MeshLambertMaterial {
  /** which hatch, by its number (see api/states.ts); 0 for none */
  readonly hatch = { value: 0 }
  readonly plane = { value: new Vector4() }
  readonly beyond = { value: new Color() }

  /** Draw what lies beyond a plane in another colour, or all in its own. */
  split(by: Split | undefined): void {
    this.plane.value.copy(by?.plane ?? new Vector4())
    if (by) this.beyond.value.set(by.colour)
  }
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

const SPLIT = `
  float above = dot(splitPlane.xyz, standsAt) + splitPlane.w;
  bool splits = dot(splitPlane.xyz, splitPlane.xyz) > 0.0;
  if (splits && above < 0.0) diffuseColor.rgb = beyond;
  if (splits && abs(above) < 1.2 * fwidth(above)) diffuseColor.rgb = vec3(0.17, 0.145, 0.13);
`

export function cutawayMaterial(): BodyMaterial {
  const material = new BodyMaterial()
  material.onBeforeCompile = (shader) => {
    shader.uniforms['hatch'] = material.hatch
    shader.uniforms['splitPlane'] = material.plane
    shader.uniforms['beyond'] = material.beyond
    shader.vertexShader = `varying vec3 standsAt;\n${shader.vertexShader}`.replace(
      '#include <begin_vertex>',
      '#include <begin_vertex>\n  standsAt = (modelMatrix * vec4(position, 1.0)).xyz;',
    )
    shader.fragmentShader = `uniform int hatch;\nuniform vec4 splitPlane;\nuniform vec3 beyond;\nvarying vec3 standsAt;\n${shader.fragmentShader}`
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <color_fragment>',
      SPLIT + '#include <color_fragment>',
    )
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <dithering_fragment>',
      '#include <dithering_fragment>\n  if (!gl_FrontFacing) gl_FragColor = vec4(mix(vec3(0.96, 0.87, 0.68), diffuse, 0.45), gl_FragColor.a);' +
        HATCH,
    )
  }
  return material
}
