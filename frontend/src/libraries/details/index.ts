export { SampleDetails } from "./SampleDetails";
