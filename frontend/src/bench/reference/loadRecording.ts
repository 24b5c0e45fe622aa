import { loadAudio } from "../../audio";

/** A stored recording, ready to be played. */
export const loadRecording = (digest: string) => loadAudio(`/api/recordings/${digest}.wav`);
