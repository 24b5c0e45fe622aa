export { Header } from "./Header";
export { StaleDialog } from "./StaleDialog";
