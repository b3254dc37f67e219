/** People › Load: everybody's load over all projects that one may see. */
import { useNavigate } from "react-router";
import { useMe } from "../../data/hooks";
import { peopleSheets } from "../../people/people";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { LoadView } from ".";

export default function LoadPlace() {
  const me = useMe();
  const navigate = useNavigate();
  return (
    <>
      <TitleLine title={`Load of ${me.organisation}`} />
      <div className="relative flex min-h-0 flex-1">
        <LoadView openTask={(code, id) => navigate(`/p/${code}/outline?open=${id}`)} />
      </div>
      <SheetBar sheets={peopleSheets(me.person)} current="Load" />
    </>
  );
}
