export { playNotes, useMidi } from "./devices";
export { MidiMenu } from "./MidiMenu";
