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
import { ActionMenu } from "../../ui";
import { DetailsDrawer, Hint, lengthText, ShareDialog, askAnew } from "../common";
import { HeardSound } from "./HeardSound";
import { matchesWords } from "./matchesWords";
import { SoundDetails } from "./SoundDetails";

/** The library's sounds: found, described, copied, removed as files, with their takes. */
export function SoundsView({ library }: { library: LibraryItem }) {
  const sounds = useSounds();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [words, setWords] = useState("");
  const [chosenId, setChosenId] = useState<number | null>(null);
  const [notice, setNotice] = useState<string | null>(null);
  const [shared, setShared] = useState<SoundItem | null>(null);
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
        <ul className="min-h-0 flex-1 overflow-y-auto" aria-label="Sounds">
          {shown.map((sound) => (
            <li
              key={sound.id}
              className={`flex items-center gap-3 border-b border-line px-3 py-1.5 ${sound.id === chosenId ? "bg-band" : ""}`}
            >
              <HeardSound sound={sound} />
              <button
                type="button"
                className="min-w-0 flex-1 text-left"
                onClick={() => setChosenId(sound.id)}
                onDoubleClick={() => void navigate(`/bench/${sound.id}`)}
              >
                <span className="block truncate font-medium">{sound.name}</span>
                <span className="block truncate text-[11.5px] text-ink-2">
                  {[sound.category, ...sound.tags].filter(Boolean).join(" · ") || "no tags"}
                </span>
              </button>
              <span className="figure w-16 text-right text-[12px]">
                {sound.look ? lengthText(sound.look.length_s) : "–"}
              </span>
              <span className="figure w-14 text-right text-[12px] narrow:hidden">
                rev {sound.revision}
              </span>
              <button
                type="button"
                className="w-20 text-right text-[12.5px] text-action underline disabled:text-ink-3 disabled:no-underline"
                disabled={sound.takes === 0}
                onClick={() => showTakes(sound)}
              >
                {sound.takes} take{sound.takes === 1 ? "" : "s"}
              </button>
              <Link to={`/bench/${sound.id}`} className="text-[12.5px] text-action underline">
                Open
              </Link>
              <ActionMenu
                label={`More of ${sound.name}`}
                className="min-h-8 rounded-control px-2 hover:bg-band"
                anchor="bottom end"
                actions={[
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
                ]}
              >
                ⋯
              </ActionMenu>
            </li>
          ))}
        </ul>
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
