import { useCallback, useEffect, useRef, useState } from "react";
import { cancelJob, followJob, type Job, openJobs } from "./jobs";

/**
 * A job of the worker as a page shows it: one that was begun earlier is taken up again where the page is opened anew.
 *
 * `end` is called once with a job that has ended.
 */
export function useJob(code: string, kind: string, end: (job: Job) => void, resume = true) {
  const [job, setJob] = useState<Job | null>(null);
  const there = useRef(true);
  const whenEnded = useRef(end);
  whenEnded.current = end;
  const follow = useCallback(async (id: string) => {
    const ended = await followJob(id, (one) => there.current && setJob(one));
    if (!there.current) return;
    setJob(null);
    whenEnded.current(ended);
  }, []);
  useEffect(() => {
    there.current = true;
    if (resume) {
      openJobs(code, kind)
        .then(([first]) => (first && there.current ? follow(first.id) : undefined))
        .catch(() => {}); // without an answer there is nothing to take up
    }
    return () => {
      there.current = false;
    };
  }, [code, kind, resume, follow]);
  return { job, follow, cancel: () => job && cancelJob(job.id) };
}
