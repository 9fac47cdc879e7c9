/** Short names for the generated types of the interface. */
import type { components } from "./schema";

type Schemas = components["schemas"];

export type PlanDocument = Schemas["PlanDocument"];
export type PlanSummary = Schemas["PlanSummary"];
export type RevisionSummary = Schemas["RevisionSummary"];
export type Evaluation = Schemas["EvaluateResponse"];
export type Verdict = Schemas["VerdictModel"];
export type Finding = Schemas["FindingModel"];
export type Mend = Schemas["MendModel"];
export type PatchStep = Schemas["PatchStep"];
export type Section = Schemas["SectionModel"];
export type Layer = Schemas["Layer"];
export type Catalog = Schemas["CatalogModel"];
export type Lamp = Schemas["LampModel"];
export type ShelfLamp = Schemas["ShelfLamp"];
export type LampDocument = Schemas["LampDocument"];
export type LampReading = Schemas["LampReading"];
export type LampCurves = Schemas["LampCurves"];
export type Curves = Schemas["CurvesResponse"];
export type FoundLamp = Schemas["FoundLamp"];
export type LampFit = Schemas["FitResponse"];
export type LampFileResult = Schemas["FileResult"];
export type PlanView = Schemas["PlanViewModel"];
export type Problem = Schemas["ProblemModel"];
export type PhrasePart = Verdict["reason"][number];
export type Fixture = Schemas["FixtureDocument"];
export type Thermostat = Schemas["ThermostatDocument"];
export type Furnishing = NonNullable<PlanDocument["furnishings"]>[number];
export type Slab = Schemas["SlabDocument"];
export type Hide = Schemas["HideDocument"];
export type Branch = Schemas["BranchDocument"];
export type Leaves = Schemas["LeavesDocument"];
export type Background = Schemas["BackgroundDocument"];
export type LampAge = Schemas["EvaluateRequest"]["lamp_age"];
export type Status = Verdict["status"];
