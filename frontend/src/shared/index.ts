export { SharedPage } from "./SharedPage";
