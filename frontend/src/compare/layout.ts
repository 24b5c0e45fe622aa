/** Width of what stands left of the rows. */
export const LABEL_WIDTH = 132;
