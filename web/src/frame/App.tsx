import { Link, Navigate, Outlet, Route, Routes, useLocation } from "react-router";
import { useSession } from "../api/session";
import { usePush } from "../api/push";
import { CoverPage } from "../features/cover/CoverPage";
import { DatabasePage } from "../features/database/DatabasePage";
import { FleetPage } from "../features/fleet/FleetPage";
import { ReadinessPage } from "../features/fleet/ReadinessPage";
import { RoutesPage } from "../features/fleet/RoutesPage";
import { StandingPage } from "../features/fleet/StandingPage";
import { GapsPage } from "../features/gaps/GapsPage";
import { HistoryPage } from "../features/history/HistoryPage";
import { NeedsPage } from "../features/watch/NeedsPage";
import { LinePage } from "../features/history/LinePage";
import { ImportDrop } from "../features/intake/ImportDrop";
import { PeoplePage } from "../features/people/PeoplePage";
import { PersonMenu } from "../features/people/PersonMenu";
import { RecordPage } from "../features/record/RecordPage";
import { SignInPage } from "../features/people/SignInPage";
import { PurgeListPage } from "../features/purge/PurgeListPage";
import { PurgePage } from "../features/purge/PurgePage";
import { DoingPage } from "../features/restore/DoingPage";
import { DrillsPage } from "../features/drills/DrillsPage";
import { RehearsalPage } from "../features/rehearsal/RehearsalPage";
import { ReportPage } from "../features/reports/ReportPage";
import { RestorePage } from "../features/restore/RestorePage";
import { SheetsPage } from "../features/sheets/SheetsPage";
import { SendingPage } from "../features/sending/SendingPage";
import { PoliciesPage } from "../features/policies/PoliciesPage";
import { PolicyPage } from "../features/policies/PolicyPage";
import { VersionsPage } from "../features/policies/VersionsPage";
import { StocktakePage } from "../features/stocktake/StocktakePage";
import { StoresPage } from "../features/stores/StoresPage";
import { WatchPage } from "../features/watch/WatchPage";
import { WeekPage } from "../features/week/WeekPage";
import { Ruler } from "../time/Ruler";
import { useView } from "../time/view";
import { FindBox } from "./FindBox";
import { Keys } from "../ui/Keys";
import { ThemeSwitch } from "../ui/ThemeSwitch";
import { WhyProvider } from "../why/WhyPanel";

export function App() {
  const { data: session } = useSession();
  if (!session) return null;
  if (!session.person) return <SignInPage session={session} />;
  return (
    <ImportDrop>
      <WhyProvider>
        <Routes>
          <Route element={<Frame />}>
            <Route path="/" element={<ToWatch />} />
            <Route element={<LookingBack />}>
              <Route path="/watch" element={<WatchPage />} />
              <Route path="/cover" element={<CoverPage />} />
              <Route path="/gaps" element={<GapsPage />} />
              <Route path="/databases/:id" element={<DatabasePage />} />
              <Route path="/history" element={<HistoryPage />} />
              <Route path="/history/*" element={<LinePage />} />
              <Route path="/restore" element={<RestorePage />} />
              <Route path="/drills" element={<DrillsPage />} />
              <Route path="/report" element={<ReportPage />} />
              <Route path="/needs" element={<NeedsPage />} />
            </Route>
            <Route path="/fleet" element={<FleetPage />} />
            <Route path="/fleet/standing" element={<StandingPage />} />
            <Route path="/fleet/routes" element={<RoutesPage />} />
            <Route path="/fleet/:id/readiness" element={<ReadinessPage />} />
            <Route path="/policies" element={<PoliciesPage />} />
            <Route path="/policies/:id" element={<PolicyPage />} />
            <Route path="/policies/:id/versions" element={<VersionsPage />} />
            <Route path="/week" element={<WeekPage />} />
            <Route path="/purge" element={<PurgePage />} />
            <Route path="/purge/:id" element={<PurgeListPage />} />
            <Route path="/restore/:id" element={<DoingPage />} />
            <Route path="/rehearsals" element={<RehearsalPage />} />
            <Route path="/sheets" element={<SheetsPage />} />
            <Route path="/sending" element={<SendingPage />} />
            <Route path="/stores" element={<StoresPage />} />
            <Route path="/stores/stocktakes/:id" element={<StocktakePage />} />
            <Route path="/people" element={<PeoplePage />} />
            <Route path="/record" element={<RecordPage />} />
            <Route path="*" element={<Nowhere />} />
          </Route>
        </Routes>
      </WhyProvider>
    </ImportDrop>
  );
}

function ToWatch() {
  const { search } = useLocation();
  return <Navigate to={`/watch${search}`} replace />;
}

function Nowhere() {
  return (
    <main className="px-5 py-8">
      <h1 className="text-[26px]">There is nothing at this address</h1>
      <p className="mt-2">
        <Link className="text-button" to="/watch">
          Go to Watch
        </Link>
      </p>
    </main>
  );
}

/** The views that look back share one ruler; the others act on now. */
function LookingBack() {
  return (
    <>
      <Ruler />
      <Outlet />
    </>
  );
}

const AREAS: [string, [path: string, name: string][]][] = [
  [
    "Set",
    [
      ["/fleet", "Fleet"],
      ["/policies", "Policies"],
      ["/week", "Week"],
      ["/stores", "Stores"],
    ],
  ],
  [
    "Check",
    [
      ["/watch", "Watch"],
      ["/cover", "Cover"],
      ["/gaps", "Gaps"],
      ["/history", "History"],
    ],
  ],
  [
    "Act",
    [
      ["/purge", "Purge"],
      ["/restore", "Restore"],
      ["/report", "Report"],
    ],
  ],
];

/** The frame around every view: navigation and the view. */
function Frame() {
  usePush();
  const { search } = useView();
  const { pathname } = useLocation();
  const here = pathname.startsWith("/databases")
    ? "/cover"
    : pathname === "/needs"
      ? "/watch"
      : ["/drills", "/rehearsals", "/sheets"].includes(pathname)
        ? "/restore"
        : pathname === "/sending"
          ? "/report"
          : pathname;
  return (
    <>
      <header className="flex min-h-[46px] flex-wrap items-center gap-x-3 border-b border-line bg-panel px-5 max-[1100px]:py-1">
        <Link to={`/watch${search}`} className="mr-2 font-serif text-[24px] leading-none font-semibold">
          firth
        </Link>
        <nav aria-label="Areas" className="flex items-center gap-2">
          {AREAS.map(([area, views]) => (
            <span key={area} className="flex items-center gap-1">
              <span className="text-[12px] font-semibold text-muted">{area}</span>
              {views.map(([path, name]) => (
                <Link
                  key={path}
                  to={`${path}${search}`}
                  aria-current={here.startsWith(path) ? "page" : undefined}
                  className={`rounded-lg px-2 py-1.5 ${here.startsWith(path) ? "bg-ink text-panel" : ""}`}
                >
                  {name}
                </Link>
              ))}
            </span>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-2 py-0.5">
          <FindBox />
          <ThemeSwitch />
          <Keys />
          <PersonMenu />
        </div>
      </header>
      <Outlet />
    </>
  );
}
