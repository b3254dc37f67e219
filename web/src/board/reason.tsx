/** Why a limit is passed. */
import { useState } from "react";
import { Button, Field, Modal } from "../parts/basics";
import { usePassing } from "./passing";

export default function ReasonDialog() {
  const passing = usePassing();
  const [reason, setReason] = useState("");
  if (!passing) return null;
  const answer = (said: string | null) => {
    setReason("");
    passing.answer(said);
  };
  return (
    <Modal open onOpenChange={() => answer(null)} title="That passes a limit">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (reason.trim()) answer(reason.trim());
        }}
      >
        <ul className="mb-3">
          {passing.problem.limits.map((one) => (
            <li key={one.key}>
              <b className="font-semibold">{one.name}</b> would hold {one.count} of {one.limit}
            </li>
          ))}
        </ul>
        <Field label="Why it is passed" hint="It is kept with the limit, for the whole team to read.">
          <input
            className="input w-full"
            maxLength={300}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        </Field>
        <div className="flex gap-2">
          <Button look="go" type="submit" disabled={!reason.trim()}>
            Pass the limit
          </Button>
          <Button look="quiet" onClick={() => answer(null)}>
            Put it back
          </Button>
        </div>
      </form>
    </Modal>
  );
}
