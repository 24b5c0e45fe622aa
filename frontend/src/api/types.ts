import type * as Document from "./generated/document";
import type { components } from "./generated/schema";
import type * as Batches from "./generated/batch";
import type * as TryOuts from "./generated/tryout";

type Schemas = components["schemas"];
export type AuditionAnswer = Schemas["AuditionBody"];
export type DetailsAnswer = Schemas["DetailsBody"];
export type LayerDetails = Schemas["LayerDetailsBody"];
export type HoldOutline = Schemas["HoldOutlineBody"];
export type Ringing = Schemas["RingingBody"];
export type ProbeStep = Schemas["ProbeStepBody"];
export type RepeatsAnswer = Schemas["RepeatsBody"];
export type Contribution = Schemas["ContributionBody"];
export type Fix = Schemas["FixBody"];
export type Remark = Schemas["RemarkBody"];
export type Edit = Schemas["EditBody"];
export type OutlineData = Schemas["OutlineBody"];
export type SpectrogramData = Schemas["SpectrogramBody"];
export type SampleItem = Schemas["SampleBody"];
export type LibraryItem = Schemas["LibraryBody"];
export type ProcessorLook = Schemas["ProcessorLookBody"];
export type GainCurve = Schemas["GainCurveBody"];
export type RecordingItem = Schemas["RecordingBody"];
export type SourceLook = Schemas["SourceLookBody"];
export type LookedMode = Schemas["LookedModeBody"];
export type CyclesData = Schemas["CyclesBody"];
export type ProposalAnswer = Schemas["ProposalBody"];
export type ComparisonAnswer = Schemas["ComparisonBody"];
export type MidiNote = Schemas["MidiNoteBody"];
export type RegisterAnswer = Schemas["RegisterBody"];
export type SoundItem = Schemas["SoundBody"];

export type {
  Bus,
  Curve,
  CurvePoint,
  FurtherNote,
  Hit,
  Layer,
  Main,
  Sound,
} from "./generated/document";
export type ToneSource = Document.ToneSource;
export type StruckSource = Document.StruckSource;
export type WavetableSource = Document.WavetableSource;
export type SampleSource = Document.SampleSource;
export type ModeChange = Document.ModeChange;
export type WaveTable = Document.WavetableSource["table"];
export type Reference = Document.Reference;
export type PartialSet = Document.PartialSet;
export type Source = Document.Layer["source"];
export type Processor = Document.Main["chain"][number];
export type Mover = Document.Sound["movers"][number];
export type MoverKind = Mover["kind"];
export type Link = Document.Link;
export type Send = Document.Send;
export type Modulator = Document.Modulator;
export type BatchPlan = Batches.BatchPlan;
export type PlannedSound = Batches.PlannedSound;
export type Axis = Batches.Axis;
export type Spread = Batches.Spread;
export type MemberRules = Batches.MemberRules;
export type BatchItem = Schemas["BatchBody"];
export type PlanFigures = Schemas["PlanFiguresBody"];
export type PlanNumber = Schemas["PlanNumberBody"];
export type PlanProbe = Schemas["BatchProbeBody"];
export type Round = Schemas["RoundBody"];
export type RoundDetail = Schemas["RoundDetailBody"];
export type SheetRow = Schemas["SheetRow"];
export type JudgedRound = Schemas["JudgedRoundBody"];
export type MemberDetail = Schemas["FamilyMemberBody"];
export type TryOut = TryOuts.TryOut;
export type TryOutPart = TryOuts.Part;
export type PlacedHit = TryOuts.PlacedHit;
export type Duck = TryOuts.Duck;
export type GameTest = TryOuts.GameTest;
export type Plays = TryOuts.Part["plays"];
export type RoundPlan = Schemas["PlanBody"];
export type RoundEvent = Schemas["EventBody"];
export type PlayedSource = Schemas["SourceBody"];
export type MixFigures = Schemas["MixBody"];
export type JudgedOverlap = Schemas["JudgedBody"];
export type GameRun = Schemas["RunBody"];
export type TryOutItem = Schemas["TryOutBody"];
export type Pigment = Document.Layer["pigment"];

/** One declared number, as /api/declarations tells it. */
export interface Parameter {
  name: string;
  label: string;
  unit:
    | ""
    | "Hz"
    | "s"
    | "st"
    | "cent"
    | "dB"
    | "deg"
    | "percent"
    | "note"
    | "beat"
    | "bpm"
    | "octave"
    | "m";
  minimum: number;
  maximum: number;
  default: number;
  scale: "linear" | "log" | "time";
  step: number;
  whole: boolean;
  help: string;
  /** Links move it all through the hit; else once, at its start. */
  followed?: boolean;
  /** Links multiply it by octaves, unless they move it in its own unit. */
  octaves?: boolean;
}

export interface Choice {
  name: string;
  label: string;
  type: "switch" | "choice";
  values?: (string | number)[];
}

export interface PartDeclaration {
  help: string;
  parameters: Parameter[];
  choices: Choice[];
  /** Parts within it that have numbers of their own, such as the bands of an equaliser. */
  parts?: Record<string, PartDeclaration>;
}

export interface Declarations {
  sound: PartDeclaration;
  hit: PartDeclaration;
  layer: PartDeclaration;
  bus: PartDeclaration;
  main: PartDeclaration;
  playing: PartDeclaration;
  pattern: PartDeclaration;
  further_note: PartDeclaration;
  modulator: PartDeclaration;
  send: PartDeclaration;
  branch: PartDeclaration;
  curve_point: PartDeclaration;
  unison: PartDeclaration;
  partials: PartDeclaration;
  sources: Record<Source["kind"], PartDeclaration & { modulations: string[] }>;
  mode_change: PartDeclaration;
  processors: Record<Processor["kind"], PartDeclaration>;
  movers: Record<MoverKind, PartDeclaration>;
  link: PartDeclaration;
  /** The pitch of a layer as a target, which is no field of the document. */
  pitch: Parameter;
  common_pitch: Parameter;
}

/** Sides beside each other, and what a blind test of them said. */
export type ComparedAnswer = Schemas["ComparedBody"];
export type BlindTestAnswer = Schemas["BlindTestBody"];
