export { SOURCE_NAMES } from "../api/generated/kinds";
