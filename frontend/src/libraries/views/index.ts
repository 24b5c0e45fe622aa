export { BinnedSounds } from "./BinnedSounds";
export { CareView } from "./CareView";
export { MembersView } from "./MembersView";
export { ReleasesView } from "./ReleasesView";
export { SoundsView } from "./SoundsView";
export { WishesView } from "./WishesView";
