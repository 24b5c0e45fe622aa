export { MacroStrip } from "./MacroStrip";
export { ModulationFields } from "./ModulationFields";
export { MoverFields } from "./MoverFields";
export { MoverList } from "./MoverList";
