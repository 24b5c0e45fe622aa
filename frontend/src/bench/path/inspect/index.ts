export { ProcessorFields } from "./ProcessorFields";
export { useLooked } from "./useLook";
