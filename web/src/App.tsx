import { Link, Navigate, Outlet, Route, Routes, useLocation } from "react-router";
import { CoverPage } from "./areas/cover/CoverPage";
import { DatabasePage } from "./areas/database/DatabasePage";
import { ImportDrop, useImport } from "./areas/import/ImportDrop";
import { Ruler } from "./time/Ruler";
import { useView } from "./time/view";
import { FindBox } from "./ui/FindBox";
import { Keys } from "./ui/Keys";
import { WhyProvider } from "./why/WhyPanel";

export function App() {
  return (
    <ImportDrop>
      <WhyProvider>
        <Routes>
          <Route element={<Frame />}>
            <Route path="/" element={<ToCover />} />
            <Route path="/cover" element={<CoverPage />} />
            <Route path="/databases/:id" element={<DatabasePage />} />
            <Route path="*" element={<Nowhere />} />
          </Route>
        </Routes>
      </WhyProvider>
    </ImportDrop>
  );
}

function ToCover() {
  const { search } = useLocation();
  return <Navigate to={`/cover${search}`} replace />;
}

function Nowhere() {
  return (
    <main className="px-5 py-8">
      <h1 className="text-[26px]">There is nothing at this address</h1>
      <p className="mt-2">
        <Link className="text-button" to="/cover">
          Go to Cover
        </Link>
      </p>
    </main>
  );
}

/** The frame around every view: navigation, the one time, and the view. */
function Frame() {
  const { search } = useView();
  const choose = useImport();
  return (
    <>
      <header className="flex h-[46px] items-center gap-3 border-b border-line bg-panel px-5">
        <Link to={`/cover${search}`} className="mr-4 font-serif text-[24px] leading-none font-semibold">
          firth
        </Link>
        <nav aria-label="Areas" className="flex items-center gap-3">
          <span className="text-[12px] font-semibold text-muted">Check</span>
          <Link to={`/cover${search}`} className="rounded-lg bg-ink px-3 py-1.5 text-panel">
            Cover
          </Link>
        </nav>
        <div className="ml-auto flex items-center gap-3">
          <button className="text-button" onClick={choose}>
            Import
          </button>
          <a className="text-button" href="/api/export" download="fleet.ndjson">
            Export
          </a>
          <FindBox />
          <Keys />
        </div>
      </header>
      <Ruler />
      <Outlet />
    </>
  );
}
