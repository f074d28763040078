import type { components } from "./schema";

type Schemas = components["schemas"];

export type Finish = Schemas["Finish"];
export type Material = Schemas["Material"];

export type Card = Schemas["CardOut"];
export type Design = Schemas["DesignOut"];
export type DesignDocument = Schemas["DesignOut"]["document"];
export type Step = DesignDocument["steps"][number];
export type NamedDimension = DesignDocument["dimensions"][number];
export type Edit = Schemas["Edits"]["edits"][number];
export type StepKind = Schemas["KindOut"];
export type HoldKind = Schemas["HoldOut"];
export type AskedMeasure = Schemas["AskedMeasure"];
export type TellOut = Schemas["TellOut"];
export type Problem = Schemas["Problem"];
export type StepStatus = Schemas["StepStatus"];
export type Finding = StepStatus["findings"][number];
export type Fix = NonNullable<Finding["fixes"]>[number];
export type SectionSummary = Schemas["SectionSummary"];
export type PictureSummary = Schemas["PictureSummary"];
export type RailSummary = Schemas["RailSummary"];
export type StationSummary = Schemas["StationSummary"];
export type MeasureSummary = Schemas["MeasureSummary"];
export type BodySummary = Schemas["BodySummary"];
export type SeamOut = Schemas["SeamOut"];
export type CombOut = Schemas["CombOut"];
export type DrawnLines = Schemas["DrawnLines"];
/** What would smooth a step. */
export type Fair = Schemas["FairOut"];
export type SolidState = Schemas["SolidState"];
export type LiveEvent =
  | Schemas["StepUpdate"]
  | Schemas["StepShaped"]
  | Schemas["StepPenned"]
  | Schemas["StepCombed"]
  | Schemas["WorkingOn"]
  | Schemas["BuildDone"]
  | Schemas["SolidState"]
  | Schemas["Revised"]
  | Schemas["Snapshot"]
  | Schemas["PreviewRefused"];
export type PreviewRequest = Schemas["PreviewIn"];
export type Version = Schemas["VersionOut"];
export type Profile = Schemas["ProfileOut"];
export type Brought = Schemas["BroughtOut"];
export type Looked = Schemas["LookedOut"];
export type BodyAt = Schemas["BodyAt"];
export type LengthUnit = DesignDocument["unit"];
export type FileFormat = Schemas["FileFormat"];
export type AsDrawn = Schemas["AsDrawn"];
