export { FacetColumn } from "./FacetColumn";
export { LibraryList } from "./LibraryList";
export { NewLibrary } from "./NewLibrary";
export { SampleTable } from "./SampleTable";
export { SearchBar } from "./SearchBar";
