export { MapView } from "./MapView";
