export { OverlapPanel } from "./OverlapPanel";
