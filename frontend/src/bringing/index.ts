export { BatchItem } from "./BatchItem";
export { BringIn } from "./BringIn";
export { chooseFiles, chooseFolder } from "./bringStore";
