/** Of the column with names at the left of every row of the timeline, in CSS pixels. */
export const LABEL_WIDTH = 152;
