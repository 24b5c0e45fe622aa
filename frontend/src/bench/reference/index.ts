export { ReferenceRow } from "./ReferenceRow";
export { StandingPicture } from "./StandingPicture";
