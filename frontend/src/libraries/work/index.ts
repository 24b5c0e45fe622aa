export { WorkDialog } from "./WorkDialog";
export { WorkMenu } from "./WorkMenu";
export { openWork } from "./workStore";
