export { BringIn } from "./BringIn";
export { chooseFiles } from "./bringStore";
