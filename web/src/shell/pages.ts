/** The pages, and the parts of them whose code comes when it is first wanted: named once, shown and fetched ahead by this. */
import { type Later, later } from "../parts/later";

export const SignIn = later(() => import("../people/sign-in").then((module) => module.SignIn));
export const Invitation = later(() => import("../people/sign-in").then((module) => module.default));
export const Desk = later(() => import("../overview/desk").then((module) => module.default));
export const AllWork = later(() => import("../views/all-work").then((module) => module.default));
export const Work = later(() => import("../tasks/work").then((module) => module.default));
export const People = later(() => import("../people/people").then((module) => module.default));
export const Teams = later(() => import("../people/people/teams").then((module) => module.default));
export const Sent = later(() => import("../people/people/sent").then((module) => module.default));
export const GoalsPlace = later(() => import("../goals").then((module) => module.default));
export const Account = later(() => import("../people/account").then((module) => module.default));
export const Notices = later(() => import("../talk/notices-page").then((module) => module.default));
export const ProjectPlace = later(() => import("./project").then((module) => module.default));

export const Brief = later(() => import("../overview/brief").then((module) => module.default));
export const Outline = later(() => import("../tasks/outline").then((module) => module.default));
export const Portfolio = later(() => import("../portfolio").then((module) => module.default));
export const Board = later(() => import("../board").then((module) => module.default));
export const Schedule = later(() => import("../schedule/lens").then((module) => module.default));
export const LoadLens = later(() => import("../resources/load/lens").then((module) => module.default));
export const Invoices = later(() => import("../cost/invoices").then((module) => module.default));
export const ProjectReports = later(() => import("../reports").then((module) => module.default));
export const ReportsPlace = later(() => import("../reports/place").then((module) => module.default));
export const KeptReports = later(() => import("../reports/kept").then((module) => module.default));
export const DashboardPlace = later(() => import("../reports/dashboards").then((module) => module.default));
export const CostsLens = later(() => import("../cost/lens").then((module) => module.default));
export const LoadPlace = later(() => import("../resources/load/place").then((module) => module.default));
export const OwnTimeSheet = later(() => import("../time/sheet/own").then((module) => module.default));
export const WeeksPlace = later(() => import("../time/sheet/weeks").then((module) => module.default));
export const TimeReport = later(() => import("../time/report").then((module) => module.default));
export const CrewsPlace = later(() => import("../resources/crews-place").then((module) => module.default));
export const Activity = later(() => import("../overview/activity").then((module) => module.default));
export const Bin = later(() => import("../tasks/bin").then((module) => module.default));
export const Compare = later(() => import("../schedule/compare").then((module) => module.default));
export const Planning = later(() => import("../schedule/planning").then((module) => module.default));
export const Settings = later(() => import("../tasks/settings").then((module) => module.default));
export const Transfer = later(() => import("../tasks/csv").then((module) => module.default));

export const Find = later(() => import("../overview/find").then((module) => module.default));
export const Folio = later(() => import("./folio").then((module) => module.Folio));
export const DraftStrip = later(() => import("../schedule/draft-strip").then((module) => module.DraftStrip));
export const RippleCard = later(() => import("../schedule/ripple-card").then((module) => module.RippleCard));
export const ClashDialog = later(() => import("./clash-dialog").then((module) => module.default));
export const ReasonDialog = later(() => import("../board/reason").then((module) => module.default));
export const LengthDialog = later(() => import("../resources/length-dialog").then((module) => module.default));
export const SignInAgain = later(() => import("./sign-in-again").then((module) => module.default));

type Page = Pick<Later<never>, "load">;
const LENSES: Record<string, Page> = {
  brief: Brief,
  portfolio: Portfolio,
  outline: Outline,
  board: Board,
  schedule: Schedule,
  load: LoadLens,
  costs: CostsLens,
};
const PLACES: Record<string, Page> = {
  "/desk": Desk,
  "/desk/all_work": AllWork,
  "/work": Work,
  "/goals": GoalsPlace,
  "/people": People,
  "/reports": ReportsPlace,
  "/reports/kept": KeptReports,
  "/people/load": LoadPlace,
  "/desk/time": OwnTimeSheet,
  "/people/time": TimeReport,
  "/people/time-sheets": WeeksPlace,
  "/notices": Notices,
};

/** What an address shows, of which the code is wanted before anything is drawn. */
export function pagesAt(pathname: string, params: URLSearchParams): Page[] {
  const [, p, code, lens = ""] = pathname.split("/");
  if (p === "invitation") return [Invitation];
  if (p === "reports" && code === "dashboard") return [Find, DashboardPlace];
  if (p !== "p" || !code) return [Find, ...(PLACES[pathname] ? [PLACES[pathname]] : [])];
  return [Find, ProjectPlace, ...(LENSES[lens] ? [LENSES[lens]] : []), ...(params.has("open") ? [Folio] : [])];
}

/** Fetch what a person is likely to open next, so that it is there. */
export function fetchAhead() {
  for (const one of [...Object.values(LENSES), Folio, RippleCard, ClashDialog, LengthDialog, SignInAgain])
    one.load().catch(() => null);
}
