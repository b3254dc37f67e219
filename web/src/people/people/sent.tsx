/** The dispatch tray: everything that was "sent" can be read here. */
import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../../data/api";
import { useMe } from "../../data/hooks";
import { Empty, Failed, Loading } from "../../parts/basics";
import { sayWhen } from "../../parts/format";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { peopleSheets } from ".";

/** Text with its links made links. */
function Body({ text }: { text: string }) {
  return text.split(/(https?:\/\/\S+)/).map((part, index) =>
    index % 2 ? (
      <a key={part} href={part} className="font-semibold break-all text-rose underline">
        {part}
      </a>
    ) : (
      part
    ),
  );
}

export default function Sent() {
  const me = useMe();
  const query = useQuery({ queryKey: ["dispatches"], queryFn: () => ask(client.GET("/api/dispatches")) });
  return (
    <>
      <TitleLine title="Dispatch tray">
        <span>Rhodonite sends no mail of its own here: what it would send is kept for you to read.</span>
      </TitleLine>
      <div
        className="mt-2 min-h-0 flex-1 overflow-auto border-t border-rule bg-sheet px-3 py-3 sm:px-[18px]"
        tabIndex={-1}
      >
        {query.error ? (
          <Failed error={query.error} retry={query.refetch} />
        ) : !query.data ? (
          <Loading what="the tray" />
        ) : query.data.length ? (
          <ul className="max-w-3xl">
            {query.data.map((one) => (
              <li key={one.id} className="mb-4 border border-rule-2">
                <div className="flex gap-3 border-b border-rule bg-paper px-3 py-1.5">
                  <b className="flex-1 font-semibold">{one.subject}</b>
                  <span className="text-ink-2">
                    {one.channel} to {one.recipient}, {sayWhen(one.sent_at, me.now)}
                  </span>
                </div>
                <p className="px-3 py-2 whitespace-pre-wrap">
                  <Body text={one.body} />
                </p>
                {Object.entries(one.files).length > 0 && (
                  <p className="flex flex-wrap gap-x-4 border-t border-rule px-3 py-1.5 text-ink-2">
                    {Object.entries(one.files).map(([id, name]) => (
                      <a key={id} href={`/api/dispatches/files/${id}`} download className="underline hover:text-ink">
                        {name}
                      </a>
                    ))}
                  </p>
                )}
              </li>
            ))}
          </ul>
        ) : (
          <Empty title="Nothing has been sent">Invitations and other mail are kept here.</Empty>
        )}
      </div>
      <SheetBar sheets={peopleSheets(me.person)} current="Dispatch tray" />
    </>
  );
}
