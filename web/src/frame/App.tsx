import { lazy, Suspense, type ComponentType } from "react";
import { Link, Navigate, Outlet, Route, Routes, useLocation } from "react-router";
import { useSession } from "../api/session";
import { usePush } from "../api/push";
import { ImportDrop } from "../features/intake/ImportDrop";
import { PersonMenu } from "../features/people/PersonMenu";
import { SignInPage } from "../features/people/SignInPage";
import { Ruler } from "../time/Ruler";
import { useView } from "../time/view";
import { FindBox } from "./FindBox";
import { Guarded } from "./Guarded";
import { Keys } from "../ui/Keys";
import { ThemeSwitch } from "../ui/ThemeSwitch";
import { WhyProvider } from "../why/WhyPanel";

/** A view that is loaded when it is first opened. */
const page = (load: () => Promise<ComponentType>) => lazy(() => load().then((view) => ({ default: view })));

const BeginPage = page(() => import("../features/begin/BeginPage").then((m) => m.BeginPage));
const CoverPage = page(() => import("../features/cover/CoverPage").then((m) => m.CoverPage));
const DatabasePage = page(() => import("../features/database/DatabasePage").then((m) => m.DatabasePage));
const DoingPage = page(() => import("../features/restore/DoingPage").then((m) => m.DoingPage));
const DrillsPage = page(() => import("../features/drills/DrillsPage").then((m) => m.DrillsPage));
const FleetPage = page(() => import("../features/fleet/FleetPage").then((m) => m.FleetPage));
const GapsPage = page(() => import("../features/gaps/GapsPage").then((m) => m.GapsPage));
const HistoryPage = page(() => import("../features/history/HistoryPage").then((m) => m.HistoryPage));
const LinePage = page(() => import("../features/history/LinePage").then((m) => m.LinePage));
const LivePage = page(() => import("../features/live/LivePage").then((m) => m.LivePage));
const NeedsPage = page(() => import("../features/watch/NeedsPage").then((m) => m.NeedsPage));
const PeoplePage = page(() => import("../features/people/PeoplePage").then((m) => m.PeoplePage));
const PlacesPage = page(() => import("../features/places/PlacesPage").then((m) => m.PlacesPage));
const PoliciesPage = page(() => import("../features/policies/PoliciesPage").then((m) => m.PoliciesPage));
const PolicyPage = page(() => import("../features/policies/PolicyPage").then((m) => m.PolicyPage));
const PurgeListPage = page(() => import("../features/purge/PurgeListPage").then((m) => m.PurgeListPage));
const PurgePage = page(() => import("../features/purge/PurgePage").then((m) => m.PurgePage));
const StandingPurgesPage = page(() =>
  import("../features/purge/StandingPurgesPage").then((m) => m.StandingPurgesPage),
);
const ReadinessPage = page(() => import("../features/fleet/ReadinessPage").then((m) => m.ReadinessPage));
const RecordPage = page(() => import("../features/record/RecordPage").then((m) => m.RecordPage));
const RehearsalPage = page(() => import("../features/rehearsal/RehearsalPage").then((m) => m.RehearsalPage));
const ReportPage = page(() => import("../features/reports/ReportPage").then((m) => m.ReportPage));
const RestorePage = page(() => import("../features/restore/RestorePage").then((m) => m.RestorePage));
const SendingPage = page(() => import("../features/sending/SendingPage").then((m) => m.SendingPage));
const SheetsPage = page(() => import("../features/sheets/SheetsPage").then((m) => m.SheetsPage));
const StandingPage = page(() => import("../features/fleet/StandingPage").then((m) => m.StandingPage));
const StocktakePage = page(() => import("../features/stocktake/StocktakePage").then((m) => m.StocktakePage));
const StoresPage = page(() => import("../features/stores/StoresPage").then((m) => m.StoresPage));
const VersionsPage = page(() => import("../features/policies/VersionsPage").then((m) => m.VersionsPage));
const WatchPage = page(() => import("../features/watch/WatchPage").then((m) => m.WatchPage));
const WeekPage = page(() => import("../features/week/WeekPage").then((m) => m.WeekPage));

export function App() {
  const { data: session } = useSession();
  if (!session) return null;
  if (!session.person) return <SignInPage session={session} />;
  return (
    <ImportDrop>
      <WhyProvider>
        <Routes>
          <Route element={<Frame />}>
            <Route path="/" element={<Home begins={session.empty} />} />
            <Route path="/begin" element={<BeginPage />} />
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
            <Route path="/fleet/places" element={<PlacesPage />} />
            <Route path="/fleet/:id/readiness" element={<ReadinessPage />} />
            <Route path="/policies" element={<PoliciesPage />} />
            <Route path="/policies/:id" element={<PolicyPage />} />
            <Route path="/policies/:id/versions" element={<VersionsPage />} />
            <Route path="/week" element={<WeekPage />} />
            <Route path="/purge" element={<PurgePage />} />
            <Route path="/purge/standing" element={<StandingPurgesPage />} />
            <Route path="/purge/:id" element={<PurgeListPage />} />
            <Route path="/restore/:id" element={<DoingPage />} />
            <Route path="/rehearsals" element={<RehearsalPage />} />
            <Route path="/sheets" element={<SheetsPage />} />
            <Route path="/sending" element={<SendingPage />} />
            <Route path="/stores" element={<StoresPage />} />
            <Route path="/stores/stocktakes/:id" element={<StocktakePage />} />
            {session.live && <Route path="/live" element={<LivePage />} />}
            <Route path="/people" element={<PeoplePage />} />
            <Route path="/record" element={<RecordPage />} />
            <Route path="*" element={<Nowhere />} />
          </Route>
        </Routes>
      </WhyProvider>
    </ImportDrop>
  );
}

/** Watch, or the first steps where nothing is there yet to be watched. */
function Home({ begins }: { begins: boolean }) {
  const { search } = useLocation();
  return <Navigate to={begins ? "/begin" : `/watch${search}`} replace />;
}

function Nowhere() {
  return (
    <main className="px-5 py-8">
      <h1 className="text-page">There is nothing at this address</h1>
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
  const begins = useSession().data?.empty ?? false;
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
        <Link to={`/watch${search}`} className="mr-2 font-serif text-box leading-none font-semibold">
          firth
        </Link>
        <nav aria-label="Areas" className="flex items-center gap-2">
          {(begins || pathname === "/begin") && (
            <NavLink path="/begin" name="First steps" here={here} search="" />
          )}
          {AREAS.map(([area, views]) => (
            <span key={area} className="flex items-center gap-1">
              <span className="text-note font-semibold text-muted">{area}</span>
              {views.map(([path, name]) => (
                <NavLink key={path} path={path} name={name} here={here} search={search} />
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
      <Guarded key={pathname}>
        <Suspense fallback={<main className="h-96 animate-pulse px-5 py-6" aria-busy />}>
          <Outlet />
        </Suspense>
      </Guarded>
    </>
  );
}

function NavLink({ path, name, here, search }: { path: string; name: string; here: string; search: string }) {
  const isHere = here.startsWith(path);
  return (
    <Link
      to={`${path}${search}`}
      aria-current={isHere ? "page" : undefined}
      className={`rounded-lg px-2 py-1.5 ${isHere ? "bg-ink text-panel" : ""}`}
    >
      {name}
    </Link>
  );
}
