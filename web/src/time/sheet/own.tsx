/** Desk › Time sheet: one's own week. */
import { DESK_LENSES } from "../../overview/desk/lenses";
import { SheetPage } from ".";

export default function OwnTimeSheet() {
  return <SheetPage person={null} sheets={DESK_LENSES} current="Time sheet" />;
}
