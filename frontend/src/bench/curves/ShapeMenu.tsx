import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDown, X } from "lucide-react";
import { useState } from "react";
import type { Curve, Sound } from "../../api";
import { curveOutline, type CurveRef, editCurve } from "../../sound";
import { asKind, shapeFitted } from "./curveTools";
import { KeepShapeDialog } from "./KeepShapeDialog";
import { useShapes } from "./useShapes";

interface Props {
  sound: Sound;
  curveRef: CurveRef;
  curve: Curve;
}

/** Curves to start from: the stock at this curve's length and range, one's own as they were kept. */
export function ShapeMenu({ sound, curveRef, curve }: Props) {
  const { stock, curves, remove } = useShapes();
  const [keeping, setKeeping] = useState(false);
  const take = (name: string, to: Curve) => editCurve(sound, curveRef, `shape ${name}`, () => to);
  const item = "flex w-full items-center gap-2 rounded-sm px-2 py-0.5 text-left data-focus:bg-band";
  return (
    <>
      <Menu>
        <MenuButton className="inline-flex min-h-6 items-center gap-1 rounded-sm border border-line-strong bg-sheet px-2 text-[12px] hover:bg-band">
          Shape <ChevronDown size={12} aria-hidden />
        </MenuButton>
        <MenuItems
          anchor="bottom start"
          className="z-30 max-h-[60vh] w-56 overflow-y-auto rounded-card border border-line-strong bg-sheet p-1 text-[12.5px]"
        >
          {curves.map((shape) => (
            <div key={shape.id} className="flex items-center">
              <MenuItem>
                <button
                  type="button"
                  className={item}
                  onClick={() =>
                    take(shape.name, asKind(shape.curve, shape.curve_name, curveRef.name))
                  }
                >
                  <ShapePicture curve={shape.curve} />
                  {shape.name}
                </button>
              </MenuItem>
              <MenuItem>
                <button
                  type="button"
                  aria-label={`Delete ${shape.name}`}
                  title="Delete this shape"
                  className="grid size-6 shrink-0 place-items-center rounded-sm text-ink-3 data-focus:bg-band"
                  onClick={() => void remove(shape.id)}
                >
                  <X size={12} aria-hidden />
                </button>
              </MenuItem>
            </div>
          ))}
          <MenuItem>
            <button
              type="button"
              className={`${item} text-action`}
              onClick={() => setKeeping(true)}
            >
              Save this curve as a shape…
            </button>
          </MenuItem>
          <hr className="my-1 border-line" />
          {stock.map((shape) => (
            <MenuItem key={shape.name}>
              <button
                type="button"
                className={item}
                onClick={() => take(shape.name, shapeFitted(shape.curve, curve, curveRef.name))}
              >
                <ShapePicture curve={shape.curve} />
                {shape.name}
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
      <KeepShapeDialog
        title="Save this curve as a shape"
        open={keeping}
        content={curve}
        kind={curveRef.name}
        onClose={() => setKeeping(false)}
      />
    </>
  );
}

function ShapePicture({ curve }: { curve: Curve }) {
  const line = curveOutline(curve, 0, curve.points.at(-1)?.time_s ?? 1);
  const end = Math.max(1e-6, ...line.map(({ timeS }) => timeS));
  const values = line.map(({ value }) => value);
  const low = Math.min(...values);
  const span = Math.max(1e-6, Math.max(...values) - low);
  const d = line
    .map(
      ({ timeS, value }, n) =>
        `${n === 0 ? "M" : "L"}${(1 + (timeS / end) * 34).toFixed(1)} ${(15 - ((value - low) / span) * 13).toFixed(1)}`,
    )
    .join("");
  return (
    <svg width={36} height={17} aria-hidden className="shrink-0">
      <path d={d} fill="none" stroke="var(--ink)" strokeWidth={1.2} />
    </svg>
  );
}
