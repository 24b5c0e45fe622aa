export { ContextButton } from "./ContextButton";
export { ContextStrip } from "./ContextStrip";
export { OverlapDrawer } from "./OverlapDrawer";
export { inContext, playInContext, toggleContext } from "./play";
export { useContextLoop, useOthers } from "./useContextLoop";
export { useOverlapOpen } from "./contextStore";
