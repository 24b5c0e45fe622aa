import { useQuery } from "@tanstack/react-query";
import { Download, Play } from "lucide-react";
import { useParams } from "react-router";
import { resultOf, api } from "../api";
import type { components } from "../api/generated/schema";
import { playUrl } from "../audio";
import { lengthText, levelText, noteText, Thumbnail } from "../libraries/common";

type Shared = components["schemas"]["SharedBody"];
const BUTTON =
  "inline-flex min-h-8 items-center gap-1.5 rounded-control border border-line-strong bg-sheet px-3 font-medium hover:bg-band";

/** What a link opens without an account: to read, hear and download. */
export function SharedPage() {
  const { secret = "" } = useParams();
  const shared = useQuery({
    queryKey: ["shared", secret],
    retry: false,
    queryFn: () => resultOf(api.GET("/api/shared/{secret}", { params: { path: { secret } } })),
  });
  const base = `/api/shared/${secret}`;
  return (
    <main className="h-full overflow-y-auto bg-paper">
      <div className="mx-auto grid max-w-[860px] gap-5 p-8">
        <header className="flex items-center gap-3">
          <img src="/icon.svg" alt="Nest Crate" className="size-10 rounded-md bg-[#e9e2d3] p-0.5" />
          <div>
            <p className="text-[12px] text-ink-2">{shared.data?.library ?? "Nest Crate"}</p>
            <h1 className="font-title text-[22px] leading-7 font-semibold">
              {titleOf(shared.data)}
            </h1>
          </div>
        </header>
        {shared.error && <p role="alert">{shared.error.message}</p>}
        {shared.data?.note && <p className="max-w-[640px]">{shared.data.note}</p>}
        {shared.data?.release && <ReleaseSheet release={shared.data.release} base={base} />}
        {shared.data?.tryout && <TryOutSheet tryout={shared.data.tryout} base={base} />}
        {shared.data && !shared.data.release && <SoundSheet shared={shared.data} base={base} />}
        {shared.data && (
          <p className="text-[12px] text-ink-2">
            This link is valid until {new Date(shared.data.expires).toLocaleDateString()}.
          </p>
        )}
      </div>
    </main>
  );
}

function titleOf(shared: Shared | undefined): string {
  if (!shared) return "A link";
  const heard = shared.sample ?? shared.sound;
  if (heard) return heard.name;
  if (shared.tryout) return shared.tryout.name;
  return `Release ${String(shared.release?.["number"] ?? "")}`;
}

interface FileRow {
  path: string;
  sha256: string;
  length_s: number;
  loudness_lufs: number;
  note: string | null;
}

function ReleaseSheet({ release, base }: { release: Record<string, unknown>; base: string }) {
  const files = (Array.isArray(release["files"]) ? release["files"] : []) as FileRow[];
  return (
    <>
      <div className="flex items-center gap-3">
        <a href={`${base}/release.zip`} download className={BUTTON}>
          <Download size={14} aria-hidden /> Download all {files.length}
        </a>
        <span className="text-ink-2">{String(release["note"] ?? "")}</span>
      </div>
      <ul className="rounded-card border border-line-strong bg-sheet">
        {files.map((file) => (
          <li
            key={file.path}
            className="flex items-center gap-3 border-b border-line px-3 py-1 last:border-0"
          >
            <button
              type="button"
              aria-label={`Play ${file.path}`}
              className="grid size-8 place-items-center rounded-control hover:bg-band"
              onClick={() => void playUrl(`${base}/files/${file.sha256}`, file.sha256)}
            >
              <Play size={14} aria-hidden />
            </button>
            <span className="min-w-0 flex-1 truncate font-medium">{file.path}</span>
            <span className="figure w-20 text-right">{lengthText(file.length_s)}</span>
            <span className="figure w-24 text-right">{levelText(file.loudness_lufs, "LUFS")}</span>
            <span className="figure w-12 text-right">{file.note ?? "–"}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** A sample or a sound: seen, heard, taken along, and how it was made. */
function SoundSheet({ shared, base }: { shared: Shared; base: string }) {
  const { sample, sound } = shared;
  const heard = sample ?? sound;
  if (!heard) return null;
  const file = sample ? `${base}/sample.wav` : `${base}/sound.wav`;
  return (
    <>
      <div className="rounded-card border border-line-strong bg-sheet p-4">
        <Thumbnail
          outline={sample ? sample.outline : (sound?.outline.data ?? "")}
          width={790}
          height={120}
        />
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <PlayButton url={file} words="Play" />
        {shared.document && <PlayButton url={`${base}/phrase.wav`} words="Eight hits" />}
        <a href={file} download className={BUTTON}>
          <Download size={14} aria-hidden /> WAV
        </a>
        {shared.document && (
          <a href={`${base}/sound.zip`} download className={BUTTON}>
            <Download size={14} aria-hidden /> Sound document
          </a>
        )}
        <span className="figure ml-auto text-ink-2">
          {lengthText(heard.length_s)} · {levelText(heard.loudness_lufs, "LUFS")} ·{" "}
          {sample ? noteText(sample) : (sound?.note ?? "–")}
        </span>
      </div>
      {heard.description && <p>{heard.description}</p>}
      {shared.recipe && (
        <section>
          <h2 className="mb-1 font-title text-[16px] font-semibold">How it was made</h2>
          <pre className="rounded-card border border-line bg-panel p-4 text-[12px] whitespace-pre-wrap">
            {shared.recipe}
          </pre>
        </section>
      )}
    </>
  );
}

type SharedTryOut = NonNullable<Shared["tryout"]>;

/** A try-out: its mix to hear, and which parts are in it. */
function TryOutSheet({ tryout, base }: { tryout: SharedTryOut; base: string }) {
  const file = `${base}/tryout.wav`;
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <PlayButton url={file} words="Play the mix" />
        <a href={file} download className={BUTTON}>
          <Download size={14} aria-hidden /> WAV
        </a>
        <span className="figure ml-auto text-ink-2">
          {lengthText(tryout.length_s)} · {tryout.tempo_bpm} bpm
        </span>
      </div>
      <ul aria-label="Parts" className="rounded-card border border-line-strong bg-sheet px-3 py-1">
        {tryout.parts.map((name, n) => (
          <li key={`${n} ${name}`} className="border-b border-line py-1 last:border-0">
            {name}
          </li>
        ))}
      </ul>
    </>
  );
}

function PlayButton({ url, words }: { url: string; words: string }) {
  return (
    <button type="button" className={BUTTON} onClick={() => void playUrl(url, url)}>
      <Play size={14} aria-hidden /> {words}
    </button>
  );
}
