/** How wide what a drawing offers to be pressed has to be, px: for a finger, or for a mouse. */
export const reach = globalThis.matchMedia?.('(pointer: coarse)').matches ? 44 : 24
