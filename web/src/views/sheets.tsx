/** The sheets that people kept, at the foot beside the lenses: opened, kept anew, put back, shared, ordered. */

import { type ReactNode, Suspense, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { may, usePeople } from "../data/hooks";
import { note, orTell } from "../data/notes";
import { Menu, MenuItem, MenuLine } from "../parts/basics";
import { later } from "../parts/later";
import { type KeptSheet, keptLink, keptTab } from "../shell/sheet-bar";
import {
  type Ground,
  placeOf,
  type Sheet,
  sheetAddress,
  sheetChanged,
  standsAt,
  useSheetChanges,
  useSheets,
} from "./view";

const fetchForms = () => import("./keep-sheet");
const KeepSheet = later(() => fetchForms().then((module) => module.KeepSheet));
const SendForm = later(() => import("./send-sheet").then((module) => module.SendForm));
const EditSheet = later(() => fetchForms().then((module) => module.EditSheet));

/** The sheets of a project, or those over all projects, as tabs of the sheet bar. */
export function useSheetTabs(project: Ground, lens: string | null): { kept: KeptSheet[]; end: ReactNode } {
  const { data: every = [] } = useSheets(project.code);
  const sheets = every.filter((one) => standsAt(one, lens));
  const [params] = useSearchParams();
  const opened = sheets.find((one) => one.id === params.get("sheet"));
  const kept = sheets.map((sheet) => {
    const here = sheet === opened && lens !== null;
    return {
      id: sheet.id,
      name: sheet.name,
      to: sheetAddress(project.code, sheet),
      here,
      tab: <Tab {...{ sheet, sheets, project, lens, here }} />,
    };
  });
  return { kept, end: lens && <KeepButton project={project} lens={lens} /> };
}

function KeepButton({ project, lens }: { project: Ground; lens: string }) {
  const [keeping, setKeeping] = useState(false);
  return (
    <>
      <button
        type="button"
        className="flex-none px-3 font-[550] whitespace-nowrap text-rose hover:underline"
        onClick={() => setKeeping(true)}
      >
        + Keep this sheet
      </button>
      {keeping && (
        <Suspense fallback={null}>
          <KeepSheet project={project} lens={lens} close={() => setKeeping(false)} />
        </Suspense>
      )}
    </>
  );
}

function Tab({
  sheet,
  sheets,
  project,
  lens,
  here,
}: {
  sheet: Sheet;
  sheets: Sheet[];
  project: Ground;
  lens: string | null;
  here: boolean;
}) {
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const changes = useSheetChanges(project.code);
  const [editing, setEditing] = useState(false);
  const [sending, setSending] = useState(false);
  const { byId } = usePeople();
  const address = sheetAddress(project.code, sheet);
  const changed = here && lens !== null && sheetChanged(sheet, lens, params);
  const mayChange = sheet.mine || may(project, "manage");
  const index = sheets.indexOf(sheet);
  const title = sheet.mine ? sheet.name : `${sheet.name}, kept by ${byId.get(sheet.person_id)?.name ?? "somebody"}`;
  return (
    <span className={keptTab(here)}>
      <Link to={address} title={title} aria-current={here ? "page" : undefined} className={keptLink(here)}>
        {sheet.name}
        {sheet.broken && (
          <span
            className="text-[11px] font-semibold text-ember"
            title="What it kept cannot be read. Keep it anew, or take it away."
          >
            broken
          </span>
        )}
        {sheet.is_default && <span className="text-[11px] text-ink-2">opens first</span>}
      </Link>
      {here && (
        <Menu
          trigger={
            <button
              type="button"
              aria-label={`More for the sheet ${sheet.name}`}
              className="px-2 text-ink-2 hover:text-ink"
            >
              ▾
            </button>
          }
        >
          {mayChange && <MenuItem onSelect={() => setEditing(true)}>Name, and who sees it</MenuItem>}
          {mayChange && sheet.sends && (
            <MenuItem onSelect={() => setSending(true)}>
              {sheet.send_on === null ? "Send it every week" : "When and to whom it is sent"}
            </MenuItem>
          )}
          {mayChange && index > 0 && (
            <MenuItem onSelect={() => orTell(changes.edit(sheet.id, { after_id: sheets[index - 2]?.id ?? null }))}>
              Move to the left
            </MenuItem>
          )}
          {mayChange && index < sheets.length - 1 && (
            <MenuItem onSelect={() => orTell(changes.edit(sheet.id, { after_id: sheets[index + 1]?.id ?? null }))}>
              Move to the right
            </MenuItem>
          )}
          {may(project, "manage") && sheet.seen_by === "project" && (
            <MenuItem onSelect={() => orTell(changes.edit(sheet.id, { is_default: !sheet.is_default }))}>
              {sheet.is_default ? "Open the brief first again" : "Open it first for everybody"}
            </MenuItem>
          )}
          <MenuItem
            onSelect={() =>
              navigator.clipboard.writeText(location.origin + address).then(
                () => note("The address of the sheet is copied."),
                () => note(`Copy this address: ${location.origin}${address}`),
              )
            }
          >
            Copy its address
          </MenuItem>
          {lens && (
            <MenuItem
              onSelect={() =>
                orTell(
                  changes
                    .keep(`${sheet.name}, copy`, "private", [], lens, params)
                    .then(() => note(`Kept “${sheet.name}, copy” for you.`)),
                )
              }
            >
              Copy the sheet
            </MenuItem>
          )}
          {mayChange && (
            <>
              <MenuLine />
              <MenuItem
                onSelect={() => {
                  navigate(project.code ? `/p/${project.code}/${lens}` : placeOf(lens ?? ""));
                  orTell(changes.remove(sheet.id));
                }}
              >
                Take it away
              </MenuItem>
            </>
          )}
        </Menu>
      )}
      {changed && (
        <span className="flex items-center gap-2 pr-2 text-[12px] whitespace-nowrap">
          changed since kept:
          {mayChange && (
            <button
              type="button"
              className="font-semibold text-rose hover:underline"
              onClick={() =>
                orTell(changes.keepAnew(sheet.id, lens, params).then(() => note(`“${sheet.name}” is kept anew.`)))
              }
            >
              keep
            </button>
          )}
          <button
            type="button"
            className="text-rose hover:underline"
            onClick={() => navigate(address, { replace: true })}
          >
            put back
          </button>
        </span>
      )}
      {editing && (
        <Suspense fallback={null}>
          <EditSheet sheet={sheet} project={project} close={() => setEditing(false)} />
        </Suspense>
      )}
      {sending && (
        <Suspense fallback={null}>
          <SendForm sheet={sheet} code={project.code} close={() => setSending(false)} />
        </Suspense>
      )}
    </span>
  );
}
