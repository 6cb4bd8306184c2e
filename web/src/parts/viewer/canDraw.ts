let able: boolean | undefined

/** Whether this browser draws in 3D. */
export function canDraw() {
  if (able === undefined) {
    const gl = document.createElement('canvas').getContext('webgl2')
    able = gl !== null
    gl?.getExtension('WEBGL_lose_context')?.loseContext()
  }
  return able
}
