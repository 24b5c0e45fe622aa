export { lengthText, levelText, noteText } from "./figures";
export { LibrariesPage } from "./LibrariesPage";
export { Thumbnail } from "./Thumbnail";
export { useShowSamples } from "./useShowSamples";
