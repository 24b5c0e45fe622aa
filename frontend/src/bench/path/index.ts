export { BusFields } from "./BusFields";
export { Path } from "./Path";
export { ProcessorMenu } from "./ProcessorMenu";
export { SendList } from "./SendList";
export { addBus, canAddBus, RouteMenu } from "./RouteMenu";
export { endTrial, tryOut, useTrial } from "./trial";
export { useChains, type SavedChain } from "./useChains";
