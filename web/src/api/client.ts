import { readDivisions } from "./binary";
import type { BodiesView } from "./generated/BodiesView";
import type { BodyDepth } from "./generated/BodyDepth";
import type { AddModels } from "./generated/AddModels";
import type { Assemble } from "./generated/Assemble";
import type { Calibration } from "./generated/Calibration";
import type { DefectKind } from "./generated/DefectKind";
import type { DefectPlace } from "./generated/DefectPlace";
import type { DepthsView } from "./generated/DepthsView";
import type { DrawingOptions } from "./generated/DrawingOptions";
import type { DrawingView } from "./generated/DrawingView";
import type { DrawnBodies } from "./generated/DrawnBodies";
import type { Flatwork } from "./generated/Flatwork";
import type { Desk } from "./generated/Desk";
import type { Edit } from "./generated/Edit";
import type { JobSummary } from "./generated/JobSummary";
import type { Shelving } from "./generated/Shelving";
import type { StatusView } from "./generated/StatusView";
import type { FlatView } from "./generated/FlatView";
import type { GivenDrawing } from "./generated/GivenDrawing";
import type { LayDrawing } from "./generated/LayDrawing";
import type { JobView } from "./generated/JobView";
import type { AskMixture } from "./generated/AskMixture";
import type { BeadsView } from "./generated/BeadsView";
import type { LayerView } from "./generated/LayerView";
import type { LoadView } from "./generated/LoadView";
import type { MixtureView } from "./generated/MixtureView";
import type { PrinterChange } from "./generated/PrinterChange";
import type { PrintersView } from "./generated/PrintersView";
import type { RackChange } from "./generated/RackChange";
import type { RackImported } from "./generated/RackImported";
import type { Spool } from "./generated/Spool";
import type { UsualSpool } from "./generated/UsualSpool";
import type { Measured } from "./generated/Measured";
import type { MeetingsView } from "./generated/MeetingsView";
import type { Mending } from "./generated/Mending";
import type { MendPreview } from "./generated/MendPreview";
import type { MovesView } from "./generated/MovesView";
import type { Answer } from "./generated/Answer";
import type { BeginRehearsal } from "./generated/BeginRehearsal";
import type { People } from "./generated/People";
import type { RehearsalView } from "./generated/RehearsalView";
import type { ReleaseView } from "./generated/ReleaseView";
import type { Said } from "./generated/Said";
import type { SendPrint } from "./generated/SendPrint";
import type { SentView } from "./generated/SentView";
import type { TroubleKind } from "./generated/TroubleKind";
import type { AboutRun } from "./generated/AboutRun";
import type { NotePrinted } from "./generated/NotePrinted";
import type { RunView } from "./generated/RunView";
import type { FileJob } from "./generated/FileJob";
import type { KeptFile } from "./generated/KeptFile";
import type { KeptFileView } from "./generated/KeptFileView";
import type { RewriteFiles } from "./generated/RewriteFiles";
import type { RewrittenView } from "./generated/RewrittenView";
import type { SayOfFile } from "./generated/SayOfFile";
import type { WaitingJob } from "./generated/WaitingJob";
import type { PrintSettingsView } from "./generated/PrintSettingsView";
import type { SetPrinting } from "./generated/SetPrinting";
import type { PartEdit } from "./generated/PartEdit";
import type { Palettes } from "./generated/Palettes";
import type { PlanView } from "./generated/PlanView";
import type { PreviewView } from "./generated/PreviewView";
import type { Problem } from "./generated/Problem";
import type { RackView } from "./generated/RackView";
import type { Replayed } from "./generated/Replayed";
import type { ReviseModel } from "./generated/ReviseModel";
import type { SheetView } from "./generated/SheetView";
import type { SnagFacets } from "./generated/SnagFacets";
import type { SnagsView } from "./generated/SnagsView";
import type { Split } from "./generated/Split";
import type { ReadWedge } from "./generated/ReadWedge";
import type { StackedView } from "./generated/StackedView";
import type { Stacking } from "./generated/Stacking";
import type { StagedView } from "./generated/StagedView";
import type { WedgeView } from "./generated/WedgeView";
import type { StepsView } from "./generated/StepsView";
import type { StrayView } from "./generated/StrayView";
import type { WayFigures } from "./generated/WayFigures";
import type { WaysView } from "./generated/WaysView";
import type { TriedParts } from "./generated/TriedParts";

/** A refusal by the server, with what to do about it. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

const offline: Problem = {
  code: "no-answer",
  message: "Varichrom does not answer",
  where: null,
  mend: "See whether it still runs; nothing acknowledged is lost.",
};

async function call(path: string, init?: RequestInit): Promise<Response> {
  const answer = await fetch(`/api/${path}`, init).catch(() => {
    throw new Refused(offline);
  });
  if (!answer.ok) {
    const problem = (await answer.json().catch(() => offline)) as Problem;
    throw new Refused(problem);
  }
  return answer;
}

async function json<T>(path: string, init?: RequestInit): Promise<T> {
  return (await (await call(path, init)).json()) as T;
}

const sent = (body: unknown): RequestInit => ({
  method: "POST",
  headers: { "content-type": "application/json" },
  body: JSON.stringify(body),
});
const post = (body?: BodyInit): RequestInit => ({ method: "POST", body: body ?? null });

export const api = {
  shelf: () => json<JobSummary[]>("jobs"),
  job: (id: number) => json<JobView>(`jobs/${id}`),
  rack: () => json<RackView>("rack"),
  changeRack: (revision: number, changes: RackChange[]) => json<RackView>("rack", sent({ revision, changes })),
  usualSpool: (asked: UsualSpool) => json<Spool>("rack/usual", sent(asked)),
  importRack: (as: "csv" | "json", file: File) => json<RackImported>(`rack/rack.${as}`, post(file)),
  printers: () => json<PrintersView>("printers"),
  changePrinters: (revision: number, changes: PrinterChange[]) => json<PrintersView>("printers", sent({ revision, changes })),
  load: (id: number) => json<LoadView>(`jobs/${id}/load`),
  askPrinter: (id: number) => json<LoadView>(`jobs/${id}/load/ask`, post()),
  setPrinterKey: (id: number, key: string | null) => json<LoadView>(`jobs/${id}/load/key`, { ...sent({ key }), method: "PUT" }),
  useLoaded: (id: number) => json<JobView>(`jobs/${id}/load/use-loaded`, post()),
  mixture: (id: number, asked: AskMixture) => json<MixtureView>(`jobs/${id}/load/mixture`, sent(asked)),
  printed: (id: number, noted: NotePrinted) => json<RackView>(`jobs/${id}/load/printed`, sent(noted)),
  runs: (id: number) => json<RunView[]>(`jobs/${id}/runs`),
  sayOfRun: (id: number, run: number, about: AboutRun) => json<RunView[]>(`jobs/${id}/runs/${run}`, { ...sent(about), method: "PUT" }),
  photoUrl: (id: number, run: number) => `/api/jobs/${id}/runs/${run}/photo`,
  setPhoto: (id: number, run: number, photo: File) => json<RunView[]>(`jobs/${id}/runs/${run}/photo`, { method: "PUT", body: photo }),
  noPhoto: (id: number, run: number) => json<RunView[]>(`jobs/${id}/runs/${run}/photo`, { method: "DELETE" }),
  notPrinted: (id: number, run: number) => json<RackView>(`jobs/${id}/load/printed/${run}`, { method: "DELETE" }),
  plan: (id: number) => json<PlanView>(`jobs/${id}/plan`),
  stopPlan: (id: number) => call(`jobs/${id}/plan/stop`, post()),
  startPlan: (id: number) => call(`jobs/${id}/plan/start`, post()),
  sheet: (id: number) => json<SheetView>(`jobs/${id}/plan/sheet`),
  snags: (id: number, restart: boolean) => json<SnagsView>(`jobs/${id}/plan/snags?restart=${restart}`),
  snagFacets: (id: number, snag: number) => json<SnagFacets>(`jobs/${id}/plan/snags/${snag}/facets`),
  ways: (id: number, restart: boolean) => json<WaysView>(`jobs/${id}/plan/ways?restart=${restart}`),
  stopTrials: (id: number) => call(`jobs/${id}/plan/trials/stop`, post()),
  calibrate: (id: number, rinses: Measured[], keep: boolean) => json<Calibration>(`jobs/${id}/plan/calibrate`, sent({ rinses, keep })),
  knownTime: (id: number, real_s: number) => json<JobView>(`jobs/${id}/plan/known-time`, sent({ real_s })),
  layer: (id: number, layer: number) => json<LayerView>(`jobs/${id}/layers/${layer}`),
  beads: (id: number, layer: number) => json<BeadsView>(`jobs/${id}/layers/${layer}/beads`),
  moves: (id: number, restart: boolean) => json<MovesView>(`jobs/${id}/moves?restart=${restart}`),
  stopMoves: (id: number) => call(`jobs/${id}/moves/stop`, post()),
  moveBytes: async (id: number) => (await call(`jobs/${id}/moves.bin`)).arrayBuffer(),
  printSettings: (id: number) => json<PrintSettingsView>(`jobs/${id}/print-settings`),
  setPrinting: (id: number, to: SetPrinting) => json<JobView>(`jobs/${id}/print-settings`, { ...sent(to), method: "PUT" }),
  rehearsal: (id: number) => json<RehearsalView>(`jobs/${id}/rehearsal`),
  beginRehearsal: (id: number, asked: BeginRehearsal) => json<RehearsalView>(`jobs/${id}/rehearsal`, sent(asked)),
  answerRehearsal: (id: number, answer: Answer) => json<RehearsalView>(`jobs/${id}/rehearsal/answer`, sent(answer)),
  paceRehearsal: (id: number, speed: number | null) =>
    json<RehearsalView>(`jobs/${id}/rehearsal/speed`, { ...sent({ speed }), method: "PUT" }),
  troubleRehearsal: (id: number, kind: TroubleKind) => json<RehearsalView>(`jobs/${id}/rehearsal/trouble`, sent({ kind })),
  endRehearsal: (id: number) => call(`jobs/${id}/rehearsal`, { method: "DELETE" }),
  jobOfFile: (file: File) => json<FileJob>(`sliced?file=${encodeURIComponent(file.name)}`, post(file)),
  keptFiles: (id: number) => json<KeptFile[]>(`jobs/${id}/sliced`),
  keepFile: (id: number, file: File) => json<KeptFile>(`jobs/${id}/sliced?file=${encodeURIComponent(file.name)}`, post(file)),
  keptFile: (id: number, file: number) => json<KeptFileView>(`jobs/${id}/sliced/${file}`),
  keptMoves: async (id: number, file: number) => (await call(`jobs/${id}/sliced/${file}/moves.bin`)).arrayBuffer(),
  sayOfFile: (id: number, file: number, said: SayOfFile) =>
    json<KeptFileView>(`jobs/${id}/sliced/${file}`, { ...sent(said), method: "PUT" }),
  forgetFile: (id: number, file: number) => call(`jobs/${id}/sliced/${file}`, { method: "DELETE" }),
  rewriteFiles: (id: number, wanted: RewriteFiles) => json<RewrittenView>(`jobs/${id}/rewritten`, sent(wanted)),
  keptUrl: (id: number, file: number, what: string) => `/api/jobs/${id}/sliced/${file}/files/${what}`,
  pictureUrl: (id: number) => `/api/jobs/${id}/picture.png`,
  restUrl: (id: number) => `/api/jobs/${id}/rehearsal/rest.gcode`,
  release: (id: number) => json<ReleaseView>(`jobs/${id}/release`),
  say: (id: number, revision: number, said: Said) => json<ReleaseView>(`jobs/${id}/release?revision=${revision}`, sent(said)),
  sent: (id: number) => json<SentView>(`jobs/${id}/sent`),
  send: (id: number, which: Partial<SendPrint>) => json<SentView>(`jobs/${id}/sent`, sent(which)),
  answerSent: (id: number, answer: Answer) => json<SentView>(`jobs/${id}/sent/answer`, sent(answer)),
  stopSent: (id: number) => call(`jobs/${id}/sent`, { method: "DELETE" }),
  people: () => json<People>("people"),
  setPeople: (people: People) => json<People>("people", { ...sent(people), method: "PUT" }),
  waiting: () => json<WaitingJob[]>("waiting"),
  flat: (drawing: GivenDrawing) => json<FlatView>("flat", sent({ drawing })),
  lay: (id: number, asked: LayDrawing) => json<JobView>(`jobs/${id}/lay`, sent(asked)),
  /** Applies an edit, in the place of a step if one is named. */
  edit: (id: number, edit: Edit, insteadOf: number | null = null) =>
    json<JobView>(`jobs/${id}/edits${insteadOf === null ? "" : `?instead_of=${insteadOf}`}`, post(JSON.stringify(edit))),
  stopEdit: (id: number) => call(`jobs/${id}/edits/stop`, post()),
  undo: (id: number) => json<JobView>(`jobs/${id}/undo`, post()),
  redo: (id: number) => json<JobView>(`jobs/${id}/redo`, post()),
  openProject: (file: File) => json<JobSummary>(`jobs?file=${encodeURIComponent(file.name)}`, { method: "POST", body: file }),
  bin: () => json<JobSummary[]>("bin"),
  status: () => json<StatusView>("status"),
  remove: (id: number, isForGood = false) => call(`jobs/${id}${isForGood ? "?for_good=true" : ""}`, { method: "DELETE" }),
  bringBack: (id: number) => call(`jobs/${id}/back`, { method: "POST" }),
  duplicate: (id: number) => json<JobSummary>(`jobs/${id}/duplicate`, { method: "POST" }),
  shelve: (id: number, to: Shelving) => call(`jobs/${id}/shelving`, { ...sent(to), method: "PUT" }),
  mesh: async (id: number, model: number) => (await call(`jobs/${id}/models/${model}/mesh`)).arrayBuffer(),
  /** Regions of all facets, and the triangles of divided ones, of the same revision. */
  labels: async (id: number, model: number) => {
    for (;;) {
      const [whole, divided] = await Promise.all(["labels", "divisions"].map((of) => call(`jobs/${id}/models/${model}/${of}`)));
      if (!whole || !divided) throw new Refused(offline);
      // An edit may have come between the two.
      if (whole.headers.get("x-revision") !== divided.headers.get("x-revision")) continue;
      return { facets: new Uint16Array(await whole.arrayBuffer()), divisions: readDivisions(await divided.arrayBuffer()) };
    }
  },
  preview: (id: number, edit: Edit) => json<PreviewView>(`jobs/${id}/preview`, post(JSON.stringify(edit))),
  /** What the job would come to after an edit; null once a newer one was asked about. */
  tried: (id: number, edit: Edit, signal: AbortSignal) => json<WayFigures | null>(`jobs/${id}/plan/try`, { ...sent(edit), signal }),
  strays: (id: number, smaller: number, narrower: number) => json<StrayView[]>(`jobs/${id}/strays?smaller=${smaller}&narrower=${narrower}`),
  steps: (id: number) => json<StepsView>(`jobs/${id}/steps`),
  stand: (id: number, at: number) => json<JobView>(`jobs/${id}/stand`, sent({ at })),
  replay: (id: number, recipe: string) => json<Replayed>(`jobs/${id}/replay`, post(recipe)),
  palettes: () => json<Palettes>("palettes"),
  setPalettes: (all: Palettes) => call("palettes", { ...sent(all), method: "PUT" }),
  desk: (id: number) => json<Desk>(`jobs/${id}/desk`),
  setDesk: (id: number, desk: Desk) => call(`jobs/${id}/desk`, { ...sent(desk), method: "PUT" }),
  meetings: (id: number, restart: boolean) => json<MeetingsView>(`jobs/${id}/parts/meetings?restart=${restart}`),
  stopMeetings: (id: number) => call(`jobs/${id}/parts/meetings/stop`, post()),
  shared: async (id: number, [first, second]: [number, number]) =>
    new Float32Array(await (await call(`jobs/${id}/parts/shared/${first}/${second}`)).arrayBuffer()),
  tryParts: (id: number, edit: PartEdit, signal: AbortSignal) => json<TriedParts>(`jobs/${id}/parts/try`, { ...sent({ edit }), signal }),
  depths: (id: number, region: string, most: number, tolerance: number, restart: boolean) =>
    json<DepthsView>(`jobs/${id}/regions/${encodeURIComponent(region)}/depths?most=${most}&tolerance=${tolerance}&restart=${restart}`),
  patches: async (id: number, model: number, crease: number) =>
    (await call(`jobs/${id}/models/${model}/patches?crease=${crease}`)).arrayBuffer(),
  staged: (id: number) => json<StagedView>(`staged/${id}`),
  drawing: (staged: number) => json<DrawingView>(`staged/${staged}/drawing`),
  readDrawing: (staged: number, options: DrawingOptions) =>
    json<DrawingView>(`staged/${staged}/drawing`, { ...sent(options), method: "PUT" }),
  drawnBodies: (staged: number, work: Flatwork) => json<DrawnBodies>(`staged/${staged}/drawing/bodies`, sent(work)),
  modelOfDrawing: (staged: number, work: Flatwork) => json<StagedView>(`staged/${staged}/drawing/model`, sent(work)),
  stacked: (staged: number, stacking: Stacking, signal: AbortSignal) =>
    json<StackedView>(`staged/${staged}/drawing/stack`, { ...sent(stacking), signal }),
  modelOfStack: (staged: number, stacking: Stacking) => json<StagedView>(`staged/${staged}/drawing/stacked-model`, sent(stacking)),
  wedge: (stacking: Stacking) => json<StagedView>("wedge", sent(stacking)),
  readWedge: (asked: ReadWedge) => json<WedgeView>("wedge/read", sent(asked)),
  drawingOfModel: (id: number, model: number, instead?: number) =>
    json<StagedView>(`jobs/${id}/models/${model}/drawing${instead === undefined ? "" : `?instead=${instead}`}`, post()),
  unstage: (id: number) => call(`staged/${id}`, { method: "DELETE" }),
  assemble: (asked: Assemble) => json<JobSummary[]>("jobs/assemble", sent(asked)),
  addModels: (id: number, asked: AddModels) => json<JobView>(`jobs/${id}/models`, sent(asked)),
  revise: (id: number, model: number, asked: ReviseModel) => json<JobView>(`jobs/${id}/models/${model}/revise`, sent(asked)),
  defects: (id: number, model: number, kind: DefectKind) => json<DefectPlace[]>(`jobs/${id}/models/${model}/defects/${kind}`),
  mendPreview: (id: number, model: number, mending: Mending) => json<MendPreview>(`jobs/${id}/models/${model}/mend-preview`, sent(mending)),
  split: (id: number, model: number, crease: number) => json<Split>(`jobs/${id}/models/${model}/split?crease=${crease}`),
  bodies: (id: number, depth: BodyDepth, signal: AbortSignal) => json<BodiesView>(`jobs/${id}/bodies?depth=${depth}`, { signal }),
  fileUrl: (id: number, file: string) => `/api/jobs/${id}/files/${file}`,
};

/** Sends a model file to be opened, telling how much of it is on its way; one that `isBeside` only belongs to a file that comes after it; `stop` ends the transfer. */
export function stageFile(
  file: File,
  beside: number[],
  progress: (share: number) => void,
  isBeside = false,
): { done: Promise<StagedView>; stop: () => void } {
  const request = new XMLHttpRequest();
  const done = new Promise<StagedView>((resolve, reject) => {
    request.open("POST", `/api/staged?file=${encodeURIComponent(file.name)}&beside=${beside.join(",")}&is_beside=${isBeside}`);
    request.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    request.onload = () => {
      try {
        const answer: unknown = JSON.parse(request.responseText);
        if (request.status === 201) resolve(answer as StagedView);
        else reject(new Refused(answer as Problem));
      } catch {
        reject(new Refused(offline));
      }
    };
    request.onerror = () => reject(new Refused(offline));
    request.onabort = () =>
      reject(new Refused({ ...offline, code: "stopped", message: "Stopped on request", mend: "Drop the file again when you like." }));
    request.send(file);
  });
  return { done, stop: () => request.abort() };
}
