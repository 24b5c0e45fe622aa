export { MoverStrip } from "./MoverStrip";
export { CurveMoves } from "./MoverLinks";
export { ModulatorList } from "./ModulatorList";
export { MoverFields } from "./MoverFields";
