import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import type { Declarations, Layer } from "../../api";
import { PIGMENTS } from "../../ui";
import { CurveSection } from "../curves";
import { withLayer, edit, type InspectorTab, showTab, useBench, SOURCE_NAMES } from "../../sound";
import { BandsPicture, HoldsSection } from "../judging";
import { CurveMoves, ModulatorList } from "../movers";
import { NameField, PartFields, Section } from "../parts";
import { RouteMenu, SendList } from "../path";
import { SourceLeaf } from "../sources";

interface Props {
  layer: Layer;
  declarations: Declarations;
}

type How = { gesture: string; moving: boolean };

const TABS: { tab: InspectorTab; label: string }[] = [
  { tab: "source", label: "Source" },
  { tab: "curve", label: "Curve" },
  { tab: "output", label: "Output" },
];

/** A layer as exact numbers on three leaves: its source, the selected curve, its output. */
export function LayerFields({ layer, declarations }: Props) {
  const tab = useBench((state) => state.tab);
  return (
    <>
      <LayerName layer={layer} />
      <TabGroup
        selectedIndex={TABS.findIndex((one) => one.tab === tab)}
        onChange={(index) => showTab(TABS[index]?.tab ?? "source")}
      >
        <TabList className="mt-2 flex border-b border-line-strong">
          {TABS.map(({ tab: name, label }) => (
            <Tab
              key={name}
              className="-mb-px min-h-7 flex-1 border-b-2 border-transparent px-2 data-selected:border-ink data-selected:font-semibold hover:bg-band"
            >
              {label}
            </Tab>
          ))}
        </TabList>
        <TabPanels>
          <TabPanel>
            <SourceLeaf layer={layer} declarations={declarations} />
            <ModulatorList layer={layer} declarations={declarations} />
          </TabPanel>
          <TabPanel>
            <CurveLeaf layer={layer} declarations={declarations} />
          </TabPanel>
          <TabPanel>
            <OutputLeaf layer={layer} declarations={declarations} />
          </TabPanel>
        </TabPanels>
      </TabGroup>
    </>
  );
}

const patchLayer = (layer: Layer) => (label: string, patch: object, how: How) =>
  edit(label, (sound) => withLayer(sound, layer.id, (now) => ({ ...now, ...patch })), how);

function CurveLeaf({ layer, declarations }: Props) {
  const curveName = useBench((state) => state.curves[layer.id] ?? "level");
  const curve = layer[curveName];
  return (
    <Section
      title={`${curveName === "level" ? "Level" : "Pitch"} curve`}
      aside={curve.release.length > 0 ? "held" : "one-shot"}
    >
      <CurveSection
        key={curveName}
        curveRef={{ layerId: layer.id, name: curveName }}
        curve={curve}
        declarations={declarations}
      />
      {curveName === "level" && <HoldsSection layer={layer} />}
      <CurveMoves
        id={`${layer.id}.${curveName}`}
        name={`${layer.name} ${curveName} curve`}
        declarations={declarations}
      />
    </Section>
  );
}

function OutputLeaf({ layer, declarations }: Props) {
  const sound = useBench((state) => state.document);
  return (
    <Section title="Output of the layer">
      {sound && (
        <div className="mb-1 flex min-h-6 items-center justify-between">
          Output <RouteMenu sound={sound} part={layer} />
        </div>
      )}
      <PartFields
        owner={layer.name}
        partId={layer.id}
        declaration={declarations.layer}
        part={layer}
        except={["mute", "solo", "pigment", "name", "follows_pitch"]}
        onChange={patchLayer(layer)}
      />
      <SendList source={layer.id} name={layer.name} />
      <BandsPicture layerId={layer.id} name={layer.name} />
    </Section>
  );
}

function LayerName({ layer }: { layer: Layer }) {
  const { glyph, colour } = PIGMENTS[layer.pigment];
  const rename = (name: string) =>
    patchLayer(layer)(`${layer.name}: named ${name}`, { name }, { gesture: "name", moving: false });
  return (
    <h2 className="flex items-center gap-2">
      <span aria-hidden style={{ color: colour }}>
        {glyph}
      </span>
      <NameField label="Name of the layer" name={layer.name} onRename={rename} />
      <span className="text-ink-2">{SOURCE_NAMES[layer.source.kind].toLowerCase()}</span>
    </h2>
  );
}
