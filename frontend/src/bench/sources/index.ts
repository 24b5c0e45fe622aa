export { SourceLeaf } from "./SourceLeaf";
