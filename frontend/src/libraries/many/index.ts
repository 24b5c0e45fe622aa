export { ChangeDialog } from "./ChangeDialog";
export { ExportDialog } from "./ExportDialog";
export { LoudnessDialog } from "./LoudnessDialog";
export { RenameDialog } from "./RenameDialog";
export { RerenderDialog } from "./RerenderDialog";
export { TrimDialog } from "./TrimDialog";
