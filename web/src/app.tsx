import { lazy, Suspense } from "react";
import { Shelf } from "./features/shelf/Shelf";
import { StatusPage } from "./features/status/StatusPage";
import { WordsPage } from "./features/words/WordsPage";
import { Notice } from "./features/shell/Notice";
import { useRoute } from "./state/route";
import { Waiting } from "./ui/states";

const JobPage = lazy(() => import("./features/shell/JobPage").then((m) => ({ default: m.JobPage })));
const DrawingPage = lazy(() => import("./features/drawing/DrawingPage").then((m) => ({ default: m.DrawingPage })));
const GuidePage = lazy(() => import("./features/guide/GuidePage").then((m) => ({ default: m.GuidePage })));
const RunSheet = lazy(() => import("./features/handover/run-sheet/RunSheet").then((m) => ({ default: m.RunSheet })));

export function App() {
  const route = useRoute();
  return (
    <>
      <Suspense fallback={<Waiting what="Opening" />}>
        {route.page === "shelf" && <Shelf />}
        {route.page === "status" && <StatusPage />}
        {route.page === "words" && <WordsPage />}
        {route.page === "guide" && <GuidePage page={route.at} />}
        {route.page === "job" && (
          <JobPage key={route.id} id={route.id} stage={route.stage} isRehearsal={route.isRehearsal ?? false} file={route.file} />
        )}
        {route.page === "drawing" && <DrawingPage key={route.staged} route={route} />}
        {route.page === "run-sheet" && <RunSheet id={route.id} />}
      </Suspense>
      <Notice />
    </>
  );
}
