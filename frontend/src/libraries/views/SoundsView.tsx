import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import {
  succeeded,
  errorText,
  resultOf,
  api,
  useSounds,
  mayDo,
  type LibraryItem,
  type SoundItem,
} from "../../api";
import { SoundFileButton } from "../../imports";
import { DetailsDrawer, Hint, ShareDialog, askAnew } from "../common";
import { matchesWords } from "./matchesWords";
import { SoundDetails } from "./SoundDetails";
import { SoundRow } from "./SoundRow";
import { useHeardSounds } from "./useHeardSounds";

const ROWS_A_PAGE = 10;

/**
 * The library's sounds: found, described, copied, removed as files, with their takes. Arrows move
 * and play, Space plays, Enter opens, as among samples.
 */
export function SoundsView({ library }: { library: LibraryItem }) {
  const sounds = useSounds();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [words, setWords] = useState("");
  const [chosenId, setChosenId] = useState<number | null>(null);
  const [notice, setNotice] = useState<string | null>(null);
  const [shared, setShared] = useState<SoundItem | null>(null);
  const heard = useHeardSounds();
  const editable = mayDo(library, "sound.edit");
  const own = sounds.data?.filter(({ library_id }) => library_id === library.id) ?? [];
  const shown = own.filter((sound) => matchesWords(sound, words));
  const chosen = shown.find(({ id }) => id === chosenId);
  const attempt = async (what: () => Promise<unknown>) => {
    setNotice(null);
    let happened = true;
    try {
      await what();
    } catch (error) {
      setNotice(errorText(error));
      happened = false;
    }
    await queries.invalidateQueries({ queryKey: ["sounds"] });
    return happened;
  };
  const pathOf = (sound_id: number) => ({ params: { path: { sound_id } } });
  const showTakes = (sound: SoundItem) => {
    askAnew({ libraries: [library.id], sound_id: sound.id, sort: "name" });
    void navigate(`/libraries/${library.id}`);
  };
  const open = (sound: SoundItem) => void navigate(`/bench/${sound.id}`);
  const go = (to: number) => {
    const sound = shown[Math.min(shown.length - 1, Math.max(0, to))];
    if (!sound) return;
    setChosenId(sound.id);
    heard.listen(sound);
    document.getElementById(`sound-${sound.id}`)?.scrollIntoView({ block: "nearest" });
  };
  const keys = (event: React.KeyboardEvent) => {
    // A button or a link of a row has keys of its own.
    if (event.target !== event.currentTarget) return;
    const at = shown.findIndex(({ id }) => id === chosenId);
    const moves: Record<string, number> = {
      ArrowDown: at + 1,
      ArrowUp: at - 1,
      PageDown: at + ROWS_A_PAGE,
      PageUp: at - ROWS_A_PAGE,
      Home: 0,
      End: shown.length - 1,
      " ": at,
    };
    const to = moves[event.key];
    if (to !== undefined) {
      event.preventDefault();
      go(to);
    } else if (event.key === "Enter" && chosen) open(chosen);
  };
  const actionsOf = (sound: SoundItem) => [
    {
      label: "Download",
      act: () => window.location.assign(`/api/sounds/${sound.id}/file?kind=zip`),
    },
    {
      label: "Download the document only",
      act: () => window.location.assign(`/api/sounds/${sound.id}/file?kind=json`),
    },
    ...(mayDo(library, "share.make")
      ? [{ label: "Share by a link", act: () => setShared(sound) }]
      : []),
    ...(editable
      ? [
          {
            label: "Make a copy",
            act: () =>
              void attempt(() =>
                resultOf(api.POST("/api/sounds/{sound_id}/copies", pathOf(sound.id))),
              ),
          },
          {
            label: "Move to bin",
            act: () =>
              void attempt(() =>
                succeeded(
                  api.PUT("/api/sounds/{sound_id}/bin", {
                    ...pathOf(sound.id),
                    body: { binned: true },
                  }),
                ),
              ),
          },
        ]
      : []),
  ];
  if (own.length === 0)
    return (
      <Hint words="No sounds in this library yet.">
        <Link to="/bench" className="font-medium text-action underline">
          Make one on the Bench
        </Link>
      </Hint>
    );
  return (
    <div className="flex min-h-0 flex-1">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-2 border-b border-line bg-panel px-3 py-2">
          <input
            type="search"
            aria-label="Find sounds"
            placeholder="Find by name, tag or description"
            value={words}
            onChange={(event) => setWords(event.target.value)}
            className="h-8 min-w-0 flex-1 rounded-control border border-line-strong bg-sheet px-2"
          />
          {editable && (
            <SoundFileButton
              libraryId={() => Promise.resolve(library.id)}
              onImported={(_, file) => setNotice(`${file} is in the library`)}
              onProblem={setNotice}
            />
          )}
          {notice && <span role="alert">{notice}</span>}
        </div>
        <div
          role="grid"
          aria-label="Sounds"
          aria-rowcount={shown.length}
          aria-activedescendant={chosen ? `sound-${chosen.id}` : undefined}
          tabIndex={0}
          onKeyDown={keys}
          className="min-h-0 flex-1 overflow-y-auto outline-offset-[-2px]"
        >
          {shown.map((sound, n) => (
            <SoundRow
              key={sound.id}
              sound={sound}
              place={n + 1}
              chosen={sound.id === chosenId}
              busy={heard.busyId === sound.id}
              problem={heard.failed?.id === sound.id ? heard.failed.words : null}
              actions={actionsOf(sound)}
              onChoose={() => setChosenId(sound.id)}
              onPlay={() => heard.listen(sound)}
              onOpen={() => open(sound)}
              onShowTakes={() => showTakes(sound)}
            />
          ))}
          {shown.length === 0 && <p className="p-4 text-ink-2">No sound fits these words.</p>}
        </div>
      </div>
      {chosen && (
        <DetailsDrawer name={chosen.name}>
          <SoundDetails
            key={chosen.id}
            sound={chosen}
            editable={editable}
            onSave={(changes) => {
              const body = { category: null, tags: null, description: null, ...changes };
              return attempt(() =>
                succeeded(api.PATCH("/api/sounds/{sound_id}", { ...pathOf(chosen.id), body })),
              );
            }}
          />
        </DetailsDrawer>
      )}
      {shared && (
        <ShareDialog
          open
          onClose={() => setShared(null)}
          what={{ soundId: shared.id, name: shared.name }}
        />
      )}
    </div>
  );
}
