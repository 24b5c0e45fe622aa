export { LinkRing } from "./LinkRing";
export { NameField } from "./NameField";
export { PartFields } from "./PartFields";
export { Section } from "./Section";
export { ShapeButtons } from "./ShapeButtons";
export { closeFinder, openFinder, useFinder, type Finding } from "./finderStore";
export { LABEL_WIDTH } from "./labelWidth";
export { GRIDS, gridLabel, gridSeconds, useRuler } from "./rulerStore";
