import { useQueryClient } from "@tanstack/react-query";
import { Ellipsis } from "lucide-react";
import { useCallback, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { renderRequest, resultOf, api, ApiError, compareAddress, type Side } from "../../api";
import { chooseFiles } from "../../imports";
import { ActionMenu, Button, DialogFrame } from "../../ui";
import { MoveDialog } from "./MoveDialog";
import { ShortcutList } from "./ShortcutList";
import { saveNow, useBench } from "../../sound";

async function readRecipe(): Promise<string> {
  const { document } = useBench.getState();
  if (!document) return "";
  return (await resultOf(api.POST("/api/judging/recipe", { body: renderRequest(document) }))).text;
}

/** A batch around the sound as it is now; answers its id. */
async function makeBatch(): Promise<number | null> {
  await saveNow();
  const { opened } = useBench.getState();
  if (!opened) return null;
  const params = { path: { sound_id: opened.id } };
  const body = { spreads: [], draws: 64 };
  return (await resultOf(api.POST("/api/sounds/{sound_id}/batches", { params, body }))).id;
}

/** What is needed now and then: the sound as a list, and the keys. */
export function HeaderMenu() {
  const [recipe, setRecipe] = useState<string | null>(null);
  const [keys, setKeys] = useState(false);
  const [moving, setMoving] = useState(false);
  const navigate = useNavigate();
  const queries = useQueryClient();
  useEffect(() => {
    const show = () => setKeys(true);
    window.addEventListener("nest-crate:keys", show);
    return () => window.removeEventListener("nest-crate:keys", show);
  }, []);
  const vary = useCallback(async () => {
    try {
      const batch = await makeBatch();
      await queries.invalidateQueries({ queryKey: ["batches"] });
      if (batch !== null) void navigate(`/batch/${batch}`);
    } catch (error) {
      setRecipe(error instanceof ApiError ? error.message : "No batch could be made");
    }
  }, [navigate, queries]);
  useEffect(() => {
    const begin = () => void vary();
    window.addEventListener("nest-crate:batch", begin);
    return () => window.removeEventListener("nest-crate:batch", begin);
  }, [vary]);
  const withReference = useBench((state) => state.document?.reference != null);
  const compare = () => {
    const { opened, document } = useBench.getState();
    if (!opened) return;
    const reference = document?.reference?.recording;
    const own: Side = { kind: "sound", id: opened.id, revision: null };
    const sides: Side[] = reference ? [{ kind: "recording", digest: reference }, own] : [own];
    // What is compared is what is saved.
    void saveNow().then(() => navigate(compareAddress(sides)));
  };
  const showRecipe = async () => {
    try {
      setRecipe(await readRecipe());
    } catch (error) {
      setRecipe(error instanceof ApiError ? error.message : "The list could not be made");
    }
  };
  return (
    <>
      <ActionMenu
        label="More"
        title="Variations, list of values, files, library, shortcuts"
        className="grid size-8 place-items-center rounded-control border border-line-strong bg-sheet hover:bg-band"
        anchor="bottom end"
        actions={[
          { label: "Make variations (Batch)", act: () => void vary() },
          { label: withReference ? "Compare with the reference" : "Compare with…", act: compare },
          { label: "Sound as text…", act: () => void showRecipe() },
          { label: "Import a file…", act: chooseFiles },
          { label: "Move to library…", act: () => setMoving(true) },
          { label: "Shortcuts (?)", act: () => setKeys(true) },
        ]}
      >
        <Ellipsis size={15} aria-hidden />
      </ActionMenu>
      <DialogFrame
        open={recipe !== null}
        onClose={() => setRecipe(null)}
        title="The sound as text"
        wide
      >
        <Recipe text={recipe ?? ""} />
      </DialogFrame>
      <MoveDialog open={moving} onClose={() => setMoving(false)} />
      <DialogFrame open={keys} onClose={() => setKeys(false)} title="Shortcuts of the Bench" wide>
        <ShortcutList />
      </DialogFrame>
    </>
  );
}

function Recipe({ text }: { text: string }) {
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    await navigator.clipboard.writeText(text);
    setCopied(true);
  };
  return (
    <div className="grid gap-3">
      <textarea
        readOnly
        aria-label="Every value with its unit"
        className="figure h-[52vh] w-full resize-none rounded-control border border-line-strong bg-sheet p-2 text-[11.5px] leading-4"
        value={text}
      />
      <Button look="action" className="justify-self-end" onClick={() => void copy()}>
        {copied ? "Copied" : "Copy"}
      </Button>
    </div>
  );
}
