/** The view of a lens as the server makes it: groups, order and sums of the outline, and the tints of any lens. */
import { useScope } from "../../views/scope";
import { useView, useViewAnswer, type View, type ViewAnswer } from "../../views/view";
import { SCOPED } from "./names";

/** The view in the address; ``arranges`` where the outline stands in other groups, another order or with other columns. */
export function useMade(code: string, lens: string): { view: View; arranges: boolean; made: ViewAnswer | undefined } {
  const [scope] = useScope();
  const [view] = useView();
  const arranges = lens === "outline" && Boolean(view.groups?.length || view.sorts?.length || view.columns?.length);
  const wanted = SCOPED.includes(lens) && (arranges || Boolean(view.tints?.length));
  const made = useViewAnswer(code, scope, view, wanted).data;
  return { view, arranges, made };
}
