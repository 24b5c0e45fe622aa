export { Finder } from "./Finder";
