export { MacroStrip } from "./MacroStrip";
export { CurveMoves } from "./MoverLinks";
export { ModulatorList } from "./ModulatorList";
export { MoverFields } from "./MoverFields";
export { MoverList } from "./MoverList";
