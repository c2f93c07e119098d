/** The one door to the server: types come from its OpenAPI document. */
import createClient from "openapi-fetch";

import { patiently } from "./patience";
import type { components, paths } from "./schema.gen";

type Schemas = components["schemas"];
export type BriefKind = Schemas["SheetAsk"]["kind"];
export type AnyTwoAnswer = Schemas["AnyTwoAnswer"];
export type AnyTwoAsk = Schemas["AnyTwoAsk"];
export type Carried = Schemas["CarriedAnswer"];
export type FoldAnswer = Schemas["FoldAnswer"];
export type FoldStep = Schemas["FoldStep"];
export type HeightsAnswer = Schemas["HeightsAnswer"];
export type NetworkSheetAnswer = Schemas["NetworkSheetAnswer"];
export type NetworkSheetAsk = Schemas["NetworkSheetAsk"];
export type RelationAnswer = Schemas["RelationAnswer"];
export type UnknownAnswer = Schemas["UnknownAnswer"];
export type UnknownAsk = Schemas["UnknownAsk"];
export type BesideAnswer = Schemas["BesideAnswer"];
export type SensorSheetAnswer = Schemas["SensorSheetAnswer"];
export type SensorShown = Schemas["SensorShown"];
export type WindowEnd = Schemas["WindowEnd"];
export type BoardAnswer = Schemas["BoardAnswer"];
export type BoardRow = Schemas["BoardRow"];
export type ChoiceRow = Schemas["ChoiceRow"];
export type Design = Schemas["Design"];
export type DesignChange = Schemas["DesignChange"];
export type Drawing = Schemas["Drawing"];
export type Figure = Schemas["Figure"];
export type GateAnswer = Schemas["GateAnswer"];
export type OpenedAnswer = Schemas["OpenedAnswer"];
export type ScatterPicture = Schemas["ScatterPicture"];
export type AdviceAnswer = Schemas["AdviceAnswer"];
export type AdvisedAnswer = Schemas["AdvisedAnswer"];
export type ContributionLine = Schemas["ContributionLine"];
export type CornerLine = Schemas["CornerLine"];
export type DrawnAnswer = Schemas["DrawnAnswer"];
export type FamilyAnswer = Schemas["FamilyAnswer"];
export type FamilyAsk = Schemas["FamilyAsk"];
export type FaultLine = Schemas["FaultLine"];
export type LinePicture = Schemas["LinePicture"];
export type PowerPicture = Schemas["PowerPicture"];
export type Problem = Schemas["Problem"];
export type ShownAnswer = Schemas["ShownAnswer"];
export type ScaleAnswer = Schemas["ScaleAnswer"];
export type SheetAnswer = Schemas["SheetAnswer"];
export type SheetAsk = Schemas["SheetAsk"];
export type Standing = Schemas["Standing"];
export type TableRow = Schemas["TableRow"];
export type TokenReading = Schemas["TokenReading"];
export type DrawerAnswer = Schemas["DrawerAnswer"];
export type DrawerLine = Schemas["LineAnswer"];
export type JobAnswer = Schemas["JobAnswer"];
export type SharedAnswer = Schemas["SharedAnswer"];
export type LineAsk = Schemas["LineAsk"];
export type TradesAnswer = Schemas["TradesAnswer"];
export type InstrumentAnswer = Schemas["InstrumentAnswer"];
export type MarkAnswer = Schemas["MarkReadings"];
export type MarksWritten = Schemas["WriteAnswer"];
export type MeterAnswer = Schemas["ListedMeter"];
export type MeterWords = Schemas["MeterWords"];
export type Reading = Schemas["EntryAnswer"];
export type Compared = Schemas["ComparedAnswer"];
export type DeletedDesign = Schemas["DeletedDesign"];
export type EntryAsk = Schemas["EntryAsk"];
/** A reading as it was read: the server judges it. */
export type NewReadingAsk = Schemas["NewReadingAsk"];
export type Evidence = Schemas["EvidenceAnswer"];
export type ImportedDesign = Schemas["ImportedDesign"];
export type PartsAnswer = Schemas["PartsAnswer"];
export type RevisionLine = Schemas["RevisionLine"];
export type PriorsAnswer = Schemas["PriorsAnswer"];
export type ReadAnswer = Schemas["ReadAnswer"];
export type RoundAnswer = Schemas["RoundAnswer"];
export type RoundAsk = Schemas["RoundAsk"];
export type SeriesAnswer = Schemas["SeriesAnswer"];
export type StepAnswer = Schemas["StepAnswer"];
export type PartLook = Schemas["PartLook"];
export type DiagnoseAnswer = Schemas["DiagnoseAnswer"];
export type FaultTable = Schemas["FaultTableAnswer"];
export type HypothesisAnswer = Schemas["HypothesisAnswer"];
export type NextAnswer = Schemas["NextAnswer"];
export type NeedAnswer = Schemas["NeedAnswer"];
export type BitsLine = Schemas["BitsLine"];
export type Drill = Schemas["PracticeQuestion"]["drill"];
export type MeasuredAnswer = Schemas["MeasuredAnswer"];
export type Picture = Schemas["Picture"];
export type PracticeAnswer = Schemas["PracticeAnswer"];
export type PracticeQuestion = Schemas["PracticeQuestion"];
export type PracticeSheet = Schemas["PracticeSheet"];
export type PracticeProgress = Schemas["ProgressAnswer"];
export type PointOffered = Schemas["PointOffered"];
export type Verdict = Schemas["Verdict"] | null;

const server = createClient<paths>({ baseUrl: "", fetch: patiently });

/** A refusal, in the server's words, or the reason it could not be asked. */
export type Refusal = {
  status: number;
  detail: string;
  errors: { field: string; message: string }[];
  current?: Design;
  /** It was kept already, and the server ended before it could say so. */
  kept?: boolean;
};
export type Outcome<T> = { data: T; error?: never } | { data?: never; error: Refusal };

async function settle<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
  seen?: (headers: Headers) => void,
): Promise<Outcome<T>> {
  try {
    const { data, error, response } = await call;
    seen?.(response.headers);
    if (response.ok) return { data: data as T };
    const problem = (error ?? {}) as Partial<Problem> & { current?: Design; kept?: boolean };
    const detail = problem.detail ?? `the server answered ${response.status}`;
    return {
      error: {
        status: response.status,
        detail,
        errors: problem.errors ?? [],
        ...(problem.current && { current: problem.current }),
        ...(problem.kept && { kept: true }),
      },
    };
  } catch (thrown) {
    if (thrown instanceof DOMException && thrown.name === "AbortError") throw thrown;
    return { error: { status: 0, detail: "the server does not answer", errors: [] } };
  }
}

export const getHealth = (): Promise<Outcome<Schemas["Health"]>> =>
  settle(server.GET("/api/health"));

export const askSheet = (body: SheetAsk, signal: AbortSignal): Promise<Outcome<SheetAnswer>> =>
  settle(server.POST("/api/sheet", { body, signal }));

export const askBeside = (body: Schemas["BesideAsk"]): Promise<Outcome<BesideAnswer>> =>
  settle(server.POST("/api/sheet/beside", { body }));

export const askShown = (body: Schemas["ShownAsk"]): Promise<Outcome<ShownAnswer>> =>
  settle(server.POST("/api/sheet/shown", { body }));

/** Some of the designs, how many there are, and of how many it is not worked out how they stand. */
export type DesignPage = { rows: Design[]; total: number; waiting: number };

export type DesignQuery = NonNullable<paths["/api/designs"]["get"]["parameters"]["query"]>;

export async function listDesigns(query: DesignQuery): Promise<Outcome<DesignPage>> {
  let total = 0;
  let waiting = 0;
  const found = await settle(server.GET("/api/designs", { params: { query } }), (headers) => {
    total = Number(headers.get("x-total-count") ?? 0);
    waiting = Number(headers.get("x-not-worked-out") ?? 0);
  });
  if (found.error) return { error: found.error };
  const rows = found.data;
  const more = Math.min(query.limit ?? rows.length, total - (query.offset ?? 0)) - rows.length;
  if (more <= 0 || rows.length === 0) return { data: { rows, total, waiting } };
  // Long designs come in several answers
  const rest = await listDesigns({
    ...query,
    offset: (query.offset ?? 0) + rows.length,
    limit: more,
  });
  return rest.error ? rest : { data: { rows: [...rows, ...rest.data.rows], total, waiting } };
}

export const listTags = (): Promise<Outcome<string[]>> => settle(server.GET("/api/designs/tags"));

export const listDeleted = (): Promise<Outcome<DeletedDesign[]>> =>
  settle(server.GET("/api/designs/deleted"));

const of = (id: number) => ({ params: { path: { design_id: id } } });

export const bringBack = (id: number): Promise<Outcome<Design>> =>
  settle(server.POST("/api/designs/{design_id}/bring-back", of(id)));

export const copyDesign = (id: number): Promise<Outcome<Design>> =>
  settle(server.POST("/api/designs/{design_id}/copy", of(id)));

export const getRecord = (id: number): Promise<Outcome<Reading[]>> =>
  settle(server.GET("/api/designs/{design_id}/record", of(id)));

export const getEvidence = (id: number): Promise<Outcome<Evidence[]>> =>
  settle(server.GET("/api/designs/{design_id}/evidence", of(id)));

/** Keep a photograph; the server encodes it anew. */
export function addEvidence(id: number, file: Blob): Promise<Outcome<Evidence>> {
  const form = new FormData();
  form.append("file", file, "photograph");
  const body = form as unknown as { file: string };
  return settle(
    server.POST("/api/designs/{design_id}/evidence", {
      ...of(id),
      body,
      bodySerializer: () => form,
    }),
  );
}

export const getRevisions = (id: number): Promise<Outcome<RevisionLine[]>> =>
  settle(server.GET("/api/designs/{design_id}/revisions", of(id)));

export const compareRevisions = (
  id: number,
  revision: number,
  other: number,
): Promise<Outcome<Compared>> =>
  settle(
    server.GET("/api/designs/{design_id}/revisions/{revision}/against/{other}", {
      params: { path: { design_id: id, revision, other } },
    }),
  );

export const restoreRevision = (id: number, revision: number): Promise<Outcome<Design>> =>
  settle(
    server.POST("/api/designs/{design_id}/revisions/{revision}/restore", {
      params: { path: { design_id: id, revision } },
    }),
  );

/** Take in a file that hands designs over; the job that reads it where that takes long. */
export const takeHandover = (file: Blob): Promise<Outcome<ImportedDesign | JobAnswer>> =>
  settle(
    server.POST("/api/designs/import", {
      body: file as unknown as Record<string, never>,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { "content-type": "application/json", prefer: "respond-async, wait=2" },
    }),
  );

export const listParts = (ids: readonly number[], boards: string): Promise<Outcome<PartsAnswer>> =>
  settle(server.GET("/api/designs/parts", { params: { query: { ids: ids.join(","), boards } } }));

/** Fetch a file that takes a while to make, so that its progress can be shown. */
export async function fetchFile(address: string): Promise<Outcome<{ file: Blob; name: string }>> {
  try {
    const response = await fetch(address);
    if (!response.ok) {
      const problem = (await response.json()) as Partial<Problem>;
      const detail = problem.detail ?? `the server answered ${response.status}`;
      return { error: { status: response.status, detail, errors: [] } };
    }
    const said = response.headers.get("content-disposition") ?? "";
    const name = /filename="([^"]+)"/.exec(said)?.[1] ?? "hand-over";
    return { data: { file: await response.blob(), name } };
  } catch {
    return { error: { status: 0, detail: "the server does not answer", errors: [] } };
  }
}

export const getDesign = (id: number): Promise<Outcome<Design>> =>
  settle(server.GET("/api/designs/{design_id}", { params: { path: { design_id: id } } }));

export const newKey = (): string =>
  "randomUUID" in crypto ? crypto.randomUUID() : `k${Date.now()}-${Math.random()}`.replace(".", "");

/** A write sent again with the key it had is answered, and not done again. */
const once = (key: string) => ({ headers: { "idempotency-key": key } });

export const newDesign = (
  body: Schemas["DesignFields"],
  key = newKey(),
  keepalive = false,
): Promise<Outcome<Design>> =>
  settle(server.POST("/api/designs", { body, keepalive, ...once(key) }));

export const changeDesign = (
  id: number,
  body: DesignChange,
  key = newKey(),
  keepalive = false,
): Promise<Outcome<Design>> =>
  settle(server.PUT("/api/designs/{design_id}", { ...of(id), body, keepalive, ...once(key) }));

export const removeDesign = (id: number): Promise<Outcome<unknown>> =>
  settle(server.DELETE("/api/designs/{design_id}", { params: { path: { design_id: id } } }));

export const askOpened = (body: Schemas["OpenedAsk"]): Promise<Outcome<OpenedAnswer>> =>
  settle(server.POST("/api/sheet/opened", { body }));

/** What would pass; the job that works it out where that takes longer than two seconds. */
export const askAdvice = (
  body: Schemas["OpenedAsk"],
  signal: AbortSignal,
): Promise<Outcome<AdvisedAnswer | JobAnswer>> =>
  settle(
    server.POST("/api/sheet/advice", {
      body,
      signal,
      headers: { prefer: "respond-async, wait=2" },
    }),
  );

export const drawMany = (body: Schemas["DrawnAsk"]): Promise<Outcome<JobAnswer>> =>
  settle(server.POST("/api/sheet/drawn", { body }));

export const listFamilies = (): Promise<Outcome<FamilyAnswer[]>> =>
  settle(server.GET("/api/families"));

export const keepFamily = (name: string, body: FamilyAsk): Promise<Outcome<FamilyAnswer>> =>
  settle(server.PUT("/api/families/{name}", { params: { path: { name } }, body }));

export const removeFamily = (name: string): Promise<Outcome<unknown>> =>
  settle(server.DELETE("/api/families/{name}", { params: { path: { name } } }));

export const askTrades = (body: Schemas["TradesAsk"]): Promise<Outcome<TradesAnswer>> =>
  settle(server.POST("/api/sheet/trades", { body }));

export const getDrawer = (): Promise<Outcome<DrawerAnswer>> => settle(server.GET("/api/drawer"));

export const newLine = (body: LineAsk): Promise<Outcome<DrawerLine>> =>
  settle(server.POST("/api/drawer/lines", { body }));

export const changeLine = (id: number, body: LineAsk): Promise<Outcome<DrawerLine>> =>
  settle(server.PUT("/api/drawer/lines/{line_id}", { params: { path: { line_id: id } }, body }));

export const removeLine = (id: number): Promise<Outcome<unknown>> =>
  settle(server.DELETE("/api/drawer/lines/{line_id}", { params: { path: { line_id: id } } }));

const csv = (file: Blob) => ({
  body: file as unknown as string,
  bodySerializer: (body: string) => body,
  headers: { "content-type": "text/csv" },
});

/** Hand a CSV file over, or only try it. */
export const takeCsv = (
  file: Blob,
  query: { how: "replace" | "add"; only_try: boolean },
): Promise<Outcome<Schemas["Taken"]>> =>
  settle(server.POST("/api/drawer/csv", { params: { query }, ...csv(file) }));

export const takeFamilies = (file: Blob, only_try: boolean): Promise<Outcome<Schemas["Taken"]>> =>
  settle(server.POST("/api/families/csv", { params: { query: { only_try } }, ...csv(file) }));

export const askSensor = (
  body: Schemas["SensorSheetAsk"],
  signal?: AbortSignal,
): Promise<Outcome<SensorSheetAnswer>> =>
  settle(server.POST("/api/sensor/sheet", { body, signal: signal ?? null }));

export const startBoard = (body: Schemas["BoardAsk"]): Promise<Outcome<JobAnswer>> =>
  settle(server.POST("/api/board", { body }));

export const shareValues = (body: Schemas["SharedAsk"]): Promise<Outcome<JobAnswer>> =>
  settle(server.POST("/api/designs/shared", { body }));

export const getJob = (id: string): Promise<Outcome<JobAnswer>> =>
  settle(server.GET("/api/jobs/{job_id}", { params: { path: { job_id: id } } }));

export const cancelJob = (id: string): Promise<Outcome<JobAnswer>> =>
  settle(server.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: id } } }));

export const askNetwork = (
  body: NetworkSheetAsk,
  signal: AbortSignal,
): Promise<Outcome<NetworkSheetAnswer>> =>
  settle(server.POST("/api/network/sheet", { body, signal }));

export const askRelation = (body: Schemas["RelationAsk"]): Promise<Outcome<RelationAnswer>> =>
  settle(server.POST("/api/network/relation", { body }));

export const editNetwork = (body: Schemas["EditAsk"]): Promise<Outcome<Schemas["EditAnswer"]>> =>
  settle(server.POST("/api/network/edit", { body }));

export const askUnknown = (body: UnknownAsk): Promise<Outcome<UnknownAnswer>> =>
  settle(server.POST("/api/network/unknown", { body }));

export const askOhm = (body: AnyTwoAsk): Promise<Outcome<AnyTwoAnswer>> =>
  settle(server.POST("/api/reference/ohm", { body }));

export const askRound = (body: RoundAsk, signal?: AbortSignal): Promise<Outcome<RoundAnswer>> =>
  settle(server.POST("/api/bench/round", { body, ...(signal && { signal }) }));

export const getReadings = (id: number): Promise<Outcome<Reading[]>> =>
  settle(server.GET("/api/designs/{design_id}/readings", { params: { path: { design_id: id } } }));

export const addEntry = (
  id: number,
  body: Schemas["EntryAsk"],
  key = newKey(),
): Promise<Outcome<Reading>> =>
  settle(
    server.POST("/api/designs/{design_id}/record", {
      ...of(id),
      body,
      keepalive: true,
      ...once(key),
    }),
  );

/** Keep a reading; the server tells what it says and how it is judged. */
export const addReading = async (
  id: number,
  body: NewReadingAsk,
  key = newKey(),
): Promise<Outcome<Reading>> => {
  const { data, error } = await settle(
    server.POST("/api/designs/{design_id}/readings", {
      ...of(id),
      body,
      keepalive: true,
      ...once(key),
    }),
  );
  return data ? { data: data.entry } : { error: error as Refusal };
};

export const listMeters = async (): Promise<Outcome<MeterAnswer[]>> => {
  const { data, error } = await settle(server.GET("/api/meters"));
  return data ? { data: data.meters } : { error: error as Refusal };
};

export const keepMeter = (name: string, body: MeterWords): Promise<Outcome<MeterAnswer>> =>
  settle(server.PUT("/api/meters/{name}", { params: { path: { name } }, body }));

export const removeMeter = (name: string): Promise<Outcome<unknown>> =>
  settle(server.DELETE("/api/meters/{name}", { params: { path: { name } } }));

export const takeMeters = (file: Blob, only_try: boolean): Promise<Outcome<Schemas["Taken"]>> =>
  settle(server.POST("/api/meters/csv", { params: { query: { only_try } }, ...csv(file) }));

export const listInstruments = async (): Promise<Outcome<InstrumentAnswer[]>> => {
  const { data, error } = await settle(server.GET("/api/instruments"));
  return data ? { data: data.instruments } : { error: error as Refusal };
};

export const keepInstrument = (
  body: Schemas["InstrumentAsk"],
): Promise<Outcome<InstrumentAnswer>> => settle(server.PUT("/api/instruments", { body }));

export const removeInstrument = (resource: string): Promise<Outcome<unknown>> =>
  settle(server.DELETE("/api/instruments", { params: { query: { resource } } }));

export const readInstrument = (body: Schemas["ReadAsk"]): Promise<Outcome<ReadAnswer>> =>
  settle(server.POST("/api/instruments/read", { body }));

export const readMark = (body: Schemas["MarkAsk"]): Promise<Outcome<MarkAnswer>> =>
  settle(server.POST("/api/marks/read", { body }));

export const writeMark = (body: Schemas["WriteAsk"]): Promise<Outcome<MarksWritten>> =>
  settle(server.POST("/api/marks/write", { body }));

export const findInSeries = (body: Schemas["SeriesAsk"]): Promise<Outcome<SeriesAnswer>> =>
  settle(server.POST("/api/reference/series", { body }));

export const askSuspects = (body: Schemas["SuspectsAsk"]): Promise<Outcome<DiagnoseAnswer>> =>
  settle(server.POST("/api/bench/suspects", { body }));

export const getPriors = (): Promise<Outcome<PriorsAnswer>> =>
  settle(server.GET("/api/bench/priors"));

export const keepPriors = (priors: Record<string, number>): Promise<Outcome<PriorsAnswer>> =>
  settle(server.PUT("/api/bench/priors", { body: { priors } }));

export const askFaults = (body: RoundAsk): Promise<Outcome<FaultTable>> =>
  settle(server.POST("/api/bench/faults", { body }));

export const putQuestion = (
  drill: Drill,
  body: Schemas["PutAsk"],
): Promise<Outcome<PracticeQuestion>> =>
  settle(server.POST("/api/practice/{drill}", { params: { path: { drill } }, body }));

const question = (id: number) => ({ params: { path: { question_id: id } } });

export const getQuestion = (id: number): Promise<Outcome<Schemas["AnsweredQuestion"]>> =>
  settle(server.GET("/api/practice/{question_id}", question(id)));

export const answerQuestion = (
  id: number,
  body: Schemas["GivenAsk"],
): Promise<Outcome<PracticeAnswer>> =>
  settle(server.POST("/api/practice/{question_id}/answer", { ...question(id), body }));

export const measureBoard = (
  id: number,
  body: Schemas["MeasureAsk"],
): Promise<Outcome<MeasuredAnswer>> =>
  settle(server.POST("/api/practice/{question_id}/measure", { ...question(id), body }));

export const getProgress = (): Promise<Outcome<PracticeProgress>> =>
  settle(server.GET("/api/practice/progress"));

export const getPracticeSheet = (body: Schemas["ClassAsk"]): Promise<Outcome<PracticeSheet>> =>
  settle(server.POST("/api/practice/sheet", { body }));

export const readNeed = (body: Schemas["NeedAsk"]): Promise<Outcome<NeedAnswer>> =>
  settle(server.POST("/api/need/read", { body }));

/** A need as one line that reads back to the same. */
export const writeNeed = (body: Schemas["BriefAsk"]): Promise<Outcome<Schemas["Written"]>> =>
  settle(server.POST("/api/need/write", { body }));
