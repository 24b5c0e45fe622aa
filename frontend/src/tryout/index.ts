export { TryOutPage } from "./TryOutPage";
