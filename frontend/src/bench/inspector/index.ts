export { Inspector } from "./Inspector";
export { InspectorButton } from "./InspectorButton";
export { InspectorDrawer } from "./InspectorDrawer";
