/** The model files that can be brought in. */
export const ACCEPTED = '.stl,.3mf,.obj,.ply,.off,.glb,.gltf,.step,.stp'
