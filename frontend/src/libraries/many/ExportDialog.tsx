import { useState } from "react";
import { errorText, resultOf, api } from "../../api";
import { Choice, DialogFrame, TextField } from "../../ui";
import { PlanFooter } from "./PlanFooter";

interface Props {
  open: boolean;
  onClose: () => void;
  ids: number[];
}

const FORMATS = [
  ["wav24", "WAV, 24 bits"],
  ["wav16", "WAV, 16 bits"],
  ["wav32", "WAV, 32 bits float"],
  ["flac24", "FLAC, 24 bits"],
  ["flac16", "FLAC, 16 bits"],
  ["ogg", "Ogg Vorbis"],
  ["aiff24", "AIFF, 24 bits"],
  ["aiff16", "AIFF, 16 bits"],
] as const;
const RATES = [
  ["0", "original"],
  ["44100", "44.1 kHz"],
  ["48000", "48 kHz"],
  ["88200", "88.2 kHz"],
  ["96000", "96 kHz"],
  ["192000", "192 kHz"],
] as const;
const WIDTHS = [
  ["as_is", "unchanged"],
  ["mono", "mono"],
  ["stereo", "stereo"],
] as const;
const LISTS = [
  ["both", "CSV and JSON"],
  ["csv", "CSV"],
  ["json", "JSON"],
  ["none", "none"],
] as const;

/** A selection as files of an open format, in one archive. */
export function ExportDialog({ open, onClose, ids }: Props) {
  const [format, setFormat] = useState<(typeof FORMATS)[number][0]>("wav24");
  const [rate, setRate] = useState<(typeof RATES)[number][0]>("48000");
  const [width, setWidth] = useState<(typeof WIDTHS)[number][0]>("as_is");
  const [list, setList] = useState<(typeof LISTS)[number][0]>("both");
  const [template, setTemplate] = useState("{category}/{name}");
  const [sfz, setSfz] = useState(false);
  const [dither, setDither] = useState(true);
  const [state, setState] = useState<{ busy: boolean; words: string | null }>({
    busy: false,
    words: null,
  });
  const download = async () => {
    setState({ busy: true, words: null });
    try {
      const body = {
        sample_ids: ids,
        file_format: format,
        sample_rate: Number(rate) as 0 | 44100 | 48000 | 88200 | 96000 | 192000,
        channels: width,
        dither,
        template,
        manifest: list,
        sfz,
      };
      const { path } = await resultOf(api.POST("/api/exports", { body }));
      // The browser itself fetches, so that a large archive never lies in this page's memory.
      const link = document.createElement("a");
      link.href = path;
      link.download = "";
      link.click();
      setState({ busy: false, words: null });
      onClose();
    } catch (error) {
      setState({ busy: false, words: errorText(error) });
    }
  };
  const sixteen = format.endsWith("16");
  return (
    <DialogFrame open={open} onClose={onClose} title={`Download ${ids.length}`} wide>
      <div className="grid grid-cols-2 gap-3">
        <Choice label="Format" value={format} options={FORMATS} onChange={setFormat} />
        <Choice label="Rate" value={rate} options={RATES} onChange={setRate} />
        <Choice label="Width" value={width} options={WIDTHS} onChange={setWidth} />
        <Choice label="List of files" value={list} options={LISTS} onChange={setList} />
      </div>
      <TextField
        label="Folders and names"
        figure
        className="mt-3"
        spellCheck={false}
        hint="A slash makes a folder; the fields are the same as in Rename."
        value={template}
        onChange={(event) => setTemplate(event.target.value)}
      />
      <div className="mt-3 grid gap-1.5">
        <label className={`flex items-center gap-2 ${sixteen ? "" : "text-ink-3"}`}>
          <input
            type="checkbox"
            disabled={!sixteen}
            checked={dither && sixteen}
            onChange={(event) => setDither(event.target.checked)}
            className="size-3.5 accent-action"
          />
          Dither to 16 bits
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={sfz}
            onChange={(event) => setSfz(event.target.checked)}
            className="size-3.5 accent-action"
          />
          An SFZ instrument for each variation group
        </label>
      </div>
      <PlanFooter
        words={state.words}
        verb="Download"
        busy={state.busy}
        ready={template !== ""}
        onDo={() => void download()}
        onClose={onClose}
      />
    </DialogFrame>
  );
}
