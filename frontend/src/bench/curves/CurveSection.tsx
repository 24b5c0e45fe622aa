import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { create } from "zustand";
import type { Curve, Declarations } from "../../api";
import { useBench, type CurveRef } from "../../sound";
import { CurveTools } from "./CurveTools";
import { FiveNumberFields } from "./FiveNumberFields";
import { LoopFields } from "./LoopFields";
import { PointTable } from "./PointTable";

interface Props {
  curveRef: CurveRef;
  curve: Curve;
  declarations: Declarations;
  /** One time round of a cycle, which has no hold and no release. */
  cycle?: boolean;
}

/** Points or five numbers, as it was chosen last: whatever curve is shown next. */
const useCurveView = create<{ view: number }>(() => ({ view: 0 }));

const TAB =
  "min-h-6 flex-1 rounded-sm px-2 text-[12px] data-selected:bg-ink data-selected:text-sheet hover:bg-band";

/** A curve as numbers, in two views of the same, and what can be done with the whole of it. */
export function CurveSection({ curveRef, curve, declarations, cycle = false }: Props) {
  const sound = useBench((state) => state.document);
  const view = useCurveView((state) => state.view);
  if (!sound) return null;
  const props = { sound, curveRef, curve, declarations };
  if (cycle)
    return (
      <>
        <CurveTools {...props} />
        <PointTable {...props} cycle />
      </>
    );
  return (
    <>
      <CurveTools {...props} />
      <TabGroup
        className="mt-3"
        selectedIndex={view}
        onChange={(index) => useCurveView.setState({ view: index })}
      >
        <TabList className="mb-2 flex gap-1 rounded-control border border-line-strong bg-sheet p-0.5">
          <Tab className={TAB}>Points</Tab>
          <Tab className={TAB}>Five numbers</Tab>
        </TabList>
        <TabPanels>
          <TabPanel>
            <PointTable {...props} />
            <LoopFields {...props} />
          </TabPanel>
          <TabPanel>
            <FiveNumberFields {...props} />
          </TabPanel>
        </TabPanels>
      </TabGroup>
    </>
  );
}
