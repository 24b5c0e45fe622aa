export { Lanes } from "./Lanes";
export { zoomBy, zoomToSelection, zoomToStart } from "./Ruler";
