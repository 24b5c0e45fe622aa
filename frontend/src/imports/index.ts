export { BatchItem } from "./BatchItem";
export { BringIn } from "./ImportPage";
export { ACCEPTED } from "./folders";
export { chooseFiles, chooseFolder } from "./importStore";
export { sendFile } from "./upload";
export { SoundFileButton } from "./SoundFileButton";
