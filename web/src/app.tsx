/** The frame of every page, and which page stands at which address. */
import { parseISO } from "date-fns";
import { Suspense, useEffect, useMemo, useState } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { usePassing } from "./board/passing";
import type { Schemas } from "./data/api";
import { useClash } from "./data/clash";
import { manages, PeopleContext, SessionContext, useAskPeople, useSession } from "./data/hooks";
import { useSaveState } from "./data/save-status";
import { redo, undo } from "./data/undo";
import { Boundary, Empty, Failed, Loading } from "./parts/basics";
import { isTyping } from "./parts/typing";
import { useAskPreferences, usePreferences } from "./people/preferences";
import { useLength } from "./resources/length";
import { useLiveUpdates } from "./shell/live";
import { Masthead } from "./shell/masthead";
import { Notes } from "./shell/notes";
import {
  Account,
  AllWork,
  ClashDialog,
  CrewsPlace,
  DashboardPlace,
  Desk,
  fetchAhead,
  GoalsPlace,
  Invitation,
  KeptReports,
  LengthDialog,
  LoadPlace,
  Notices,
  OwnTimeSheet,
  People,
  ProjectPlace,
  ReasonDialog,
  ReportsPlace,
  Sent,
  SignIn,
  SignInAgain,
  Teams,
  TimeReport,
  WeeksPlace,
  Work,
} from "./shell/pages";
import { useTimerKey } from "./time/use-timer-key";

/**
 * Args:
 *   code: resolves when the code of the page is there, or cannot be had.
 */
export function App({ code }: { code: Promise<unknown> }) {
  const session = useSession();
  const [isThere, setThere] = useState(false);
  useEffect(() => {
    code.then(() => setThere(true));
  }, [code]);
  const location = useLocation();
  if (location.pathname.startsWith("/invitation/"))
    return (
      <Suspense fallback={<Loading what="the invitation" rows={3} />}>
        <Routes>
          <Route path="/invitation/:token" element={<Invitation />} />
        </Routes>
      </Suspense>
    );
  if (session.error) return <Failed error={session.error} retry={session.refetch} />;
  if (!session.data || !isThere) return <Loading what="Rhodonite" rows={3} />;
  if (!session.data.person)
    return (
      <Suspense fallback={<Loading what="Rhodonite" rows={3} />}>
        <SignIn session={session.data} />
      </Suspense>
    );
  return <Inside session={session.data} person={session.data.person} />;
}

function Inside({ session, person }: { session: Schemas["SessionOut"]; person: Schemas["PersonOut"] }) {
  useLiveUpdates();
  const { pathname } = useLocation();
  const people = useAskPeople();
  const asked = useAskPreferences();
  const { home } = usePreferences();
  useUndoKeys();
  useTimerKey();
  const value = useMemo(
    () => ({ person, organisation: session.organisation, now: parseISO(session.now) }),
    [person, session],
  );
  return (
    <SessionContext value={value}>
      <PeopleContext value={people}>
        <div className="flex h-full flex-col">
          <Masthead />
          <Boundary key={pathname}>
            <Suspense fallback={<Loading what="the page" rows={14} />}>
              <main className="flex min-h-0 flex-1 flex-col">
                <Routes>
                  <Route
                    path="/"
                    element={
                      asked ? (
                        <Navigate to={home ? `/${home}` : manages(person) ? "/work" : "/desk"} replace />
                      ) : (
                        <Loading what="the page" rows={14} />
                      )
                    }
                  />
                  <Route path="/desk" element={<Desk />} />
                  <Route path="/desk/all_work" element={<AllWork />} />
                  <Route path="/desk/everything" element={<Moved to="/desk/all_work" />} />
                  <Route path="/work" element={<Work />} />
                  <Route path="/goals" element={<GoalsPlace />} />
                  <Route path="/reports" element={<ReportsPlace />} />
                  <Route path="/reports/kept" element={<KeptReports />} />
                  <Route path="/reports/dashboard/:id" element={<DashboardPlace />} />
                  <Route path="/people" element={<People />} />
                  <Route path="/people/load" element={<LoadPlace />} />
                  <Route path="/desk/time" element={<OwnTimeSheet />} />
                  <Route path="/people/time" element={<TimeReport />} />
                  <Route path="/people/time-sheets" element={<WeeksPlace />} />
                  <Route path="/people/crews" element={<CrewsPlace />} />
                  <Route path="/people/teams" element={<Teams />} />
                  <Route path="/people/sent" element={<Sent />} />
                  <Route path="/account" element={<Account />} />
                  <Route path="/p/:code" element={<ProjectPlace />} />
                  <Route path="/p/:code/:lens" element={<ProjectPlace />} />
                  <Route path="/p/:code/:lens/:number" element={<ProjectPlace />} />
                  <Route path="/notices" element={<Notices />} />
                  <Route
                    path="*"
                    element={<Empty title="There is nothing at this address">Choose a place above.</Empty>}
                  />
                </Routes>
              </main>
            </Suspense>
          </Boundary>
        </div>
        <Notes />
        <OverThePage />
      </PeopleContext>
    </SessionContext>
  );
}

/** What stands over the page when something has to be decided first. Its code is there before that. */
function OverThePage() {
  const clash = useClash();
  const passing = usePassing();
  const length = useLength();
  const { signedOut } = useSaveState();
  useEffect(() => {
    const timer = setTimeout(fetchAhead, 3000);
    return () => clearTimeout(timer);
  }, []);
  return (
    <Suspense fallback={null}>
      {clash && <ClashDialog />}
      {passing && <ReasonDialog />}
      {length && <LengthDialog />}
      {signedOut && <SignInAgain />}
    </Suspense>
  );
}

/** An address of before: what stood behind it stays. */
function Moved({ to }: { to: string }) {
  const { search } = useLocation();
  return <Navigate to={to + search} replace />;
}

function useUndoKeys() {
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (isTyping(event.target) || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
}
