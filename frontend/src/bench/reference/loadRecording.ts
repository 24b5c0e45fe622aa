import { loadAudio } from "../../audio/player";

/** A stored recording, ready to be played. */
export const loadRecording = (digest: string) => loadAudio(`/api/recordings/${digest}.wav`);
