import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import {
  resultOf,
  api,
  ApiError,
  libraryForNewSounds,
  type MidiNote,
  type RecordingItem,
  type Sound,
} from "../api";
import { saveNow, useBench } from "../sound";
import { asImpulse, asLayer, asNotes, asReference, asTable } from "./intoSound";
import { sendFile } from "./upload";

export type Destination = "layer" | "reference" | "impulse" | "table" | "start" | "notes";

interface Progress {
  name: string;
  share: number;
  words: string;
}

const PLACED: Partial<Record<Destination, (one: RecordingItem) => void>> = {
  layer: asLayer,
  reference: asReference,
  impulse: asImpulse,
  table: asTable,
};

const distanceWords = (level: number, bands: number, cents: number | null) =>
  `Level within ${level.toFixed(1)} dB, bands within ${bands.toFixed(1)} dB${cents === null ? "" : `, pitch within ${cents.toFixed(0)} ct`} of the reference, on average`;

/** Sends files one after the other into the open sound, and says how far it is. */
export function useBringIn(onDone: (words: string | null) => void) {
  const [progress, setProgress] = useState<Progress | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();

  const start = async (one: RecordingItem): Promise<string> => {
    const { opened } = useBench.getState();
    const libraryId = opened?.editable ? opened.libraryId : (await libraryForNewSounds()).id;
    const body = { recording: one.digest, name: one.name.slice(0, 120) || "From a file" };
    const made = await resultOf(api.POST("/api/sources/propose", { body }));
    const reference = { recording: one.digest, name: one.name.slice(0, 120), left_out: [] };
    const document = { ...made.document, reference };
    if (opened) await saveNow();
    const draft = await resultOf(
      api.POST("/api/sounds", { body: { library_id: libraryId, document, private: true } }),
    );
    await queries.invalidateQueries({ queryKey: ["sounds"] });
    await navigate(`/bench/${draft.id}`);
    const { level_db, bands_mean_db, pitch_cent } = made.distance;
    return `${made.found.join("; ")}. ${distanceWords(level_db, bands_mean_db, pitch_cent)}. A starting point to work from.`;
  };

  const one = async (file: File, to: Destination) => {
    const share = (part: number) =>
      setProgress({
        name: file.name,
        share: part,
        words: part < 1 ? "sending" : to === "start" ? "listening to it" : "reading it",
      });
    share(0);
    if (to === "notes") {
      const { notes } = await sendFile<{ notes: MidiNote[] }>("/api/recordings/midi", file, share);
      const left = asNotes(notes, file.name);
      return left > 0 ? `The first 16 notes; ${left} more were left out.` : null;
    }
    const made = await sendFile<RecordingItem>("/api/recordings", file, share);
    await queries.invalidateQueries({ queryKey: ["recordings"] });
    if (to === "start") return start(made);
    PLACED[to]?.(made);
    return null;
  };

  const bring = async (files: File[], to: Destination) => {
    setProblem(null);
    let words: string | null = null;
    for (const file of files) {
      try {
        words = (await one(file, to)) ?? words;
      } catch (error) {
        const reason = error instanceof ApiError || error instanceof Error ? error.message : "";
        setProgress(null);
        setProblem(`${file.name}: ${reason || "it could not be imported"}`);
        return;
      }
    }
    setProgress(null);
    onDone(words);
  };
  return { progress, problem, bring, forget: () => setProblem(null) };
}

/** Whether a sound is open that files can go into. */
export const useOpenSound = (): Sound | null =>
  useBench((state) => (state.opened ? state.document : null));
