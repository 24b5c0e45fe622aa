export { LibrariesPage } from "./LibrariesPage";
