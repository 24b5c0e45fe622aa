import { Download, Play, Share2, Waypoints } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { mayDo, type LibraryItem, type SampleItem } from "../../api";
import { Button, Leaves, noteName } from "../../ui";
import { askAnew, askLike, ShareDialog, playSample } from "../common";
import { AboutLeaf } from "./AboutLeaf";
import { CommentsLeaf } from "./CommentsLeaf";
import { FiguresLeaf } from "./FiguresLeaf";
import { HistoryLeaf } from "./HistoryLeaf";
import { HeardWave } from "./HeardWave";
import { MadeOf } from "./MadeOf";

const LEAVES = ["About", "Figures", "Comments", "History"] as const;

interface Props {
  sample: SampleItem;
  library: LibraryItem | undefined;
}

/** One sample: heard, described, measured, talked about, and how it was made. */
export function SampleDetails({ sample, library }: Props) {
  const [leaf, setLeaf] = useState<(typeof LEAVES)[number]>("About");
  const [atS, setAtS] = useState<number | null>(null);
  const [sharing, setSharing] = useState(false);
  const file = `/api/samples/${sample.id}/file?sample_rate=48000&sample_format=pcm24&download=true`;
  const editable = mayDo(library, "sample.edit") && !sample.deleted;
  const hitNote = sample.hit?.["note"];
  const link =
    "inline-flex min-h-8 items-center gap-1 rounded-control border border-line-strong bg-sheet px-2 whitespace-nowrap hover:bg-band";
  return (
    <aside
      aria-label="Sample"
      className="flex min-w-0 flex-1 flex-col overflow-y-auto border-l border-line-strong bg-panel p-3.5"
    >
      <h3 className="font-title text-[16px] font-semibold break-words">{sample.name}</h3>
      <HeardWave
        sample={sample}
        atS={atS}
        onPoint={(at) => {
          setAtS(at);
          setLeaf("Comments");
        }}
      />
      <div className="flex gap-1 text-[12.5px]">
        <Button look="ink" onClick={() => playSample(sample)}>
          <Play size={14} aria-hidden /> Play
        </Button>
        <button type="button" className={link} onClick={() => askLike(sample.id)}>
          <Waypoints size={14} aria-hidden /> More like this
        </button>
        <a
          href={file}
          download
          className={link}
          aria-label="Download as WAV, 24 bit"
          title="WAV, 24 bit"
        >
          <Download size={14} aria-hidden />
        </a>
        {mayDo(library, "share.make") && (
          <button
            type="button"
            className={link}
            onClick={() => setSharing(true)}
            aria-label="Share by a link"
            title="Share by a link"
          >
            <Share2 size={14} aria-hidden />
          </button>
        )}
      </div>
      {sample.sound_id !== null && (
        <p className="mt-2.5 flex flex-wrap items-center gap-x-2 text-[12.5px]">
          <Link to={`/bench/${sample.sound_id}`} className="font-medium text-action underline">
            Open its sound
          </Link>
          <span className="text-ink-2">
            revision {sample.sound_revision}
            {typeof hitNote === "number" ? `, at ${noteName(hitNote)}` : ""}
          </span>
          <button
            type="button"
            className="text-action underline"
            onClick={() => askAnew({ libraries: [sample.library_id], sound_id: sample.sound_id })}
          >
            all samples of it
          </button>
        </p>
      )}
      {sample.sound_id === null && <MadeOf sampleId={sample.id} />}
      <div className="my-3">
        <Leaves label="Sample" leaves={LEAVES} chosen={leaf} onChoose={setLeaf} wide />
      </div>
      {leaf === "About" && (
        <AboutLeaf
          key={sample.id}
          sample={sample}
          editable={editable}
          library={library}
          mayRate={mayDo(library, "sample.rate") && !sample.deleted}
        />
      )}
      {leaf === "Figures" && <FiguresLeaf sample={sample} editable={editable} />}
      {leaf === "Comments" && (
        <CommentsLeaf
          sample={sample}
          atS={atS}
          onPoint={setAtS}
          mayComment={mayDo(library, "sample.comment")}
        />
      )}
      {leaf === "History" && <HistoryLeaf sampleId={sample.id} version={sample.version} />}
      <ShareDialog
        open={sharing}
        onClose={() => setSharing(false)}
        what={{ sampleId: sample.id, name: sample.name }}
      />
    </aside>
  );
}
