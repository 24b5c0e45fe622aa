export { BatchPage } from "./BatchPage";
