/** What the worker does for a person: followed until it has ended, and cancelled. */
import { ask, client, Problem, type Schemas } from "./api";

export type Job = Schemas["JobOut"];

const LOOK_EVERY = 500;
const OPEN = new Set(["waiting", "running"]);

/** Follow a job to its end; `tell` is given how far it is. While the server is away it goes on asking. */
export async function followJob(id: string, tell: (job: Job) => void): Promise<Job> {
  for (;;) {
    const job = await lookAt(id);
    if (job) {
      tell(job);
      if (!OPEN.has(job.stage)) return job;
    }
    await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY));
  }
}

async function lookAt(id: string): Promise<Job | null> {
  try {
    return await ask(client.GET("/api/jobs/{job_id}", { params: { path: { job_id: id } } }));
  } catch (error) {
    if (error instanceof Problem && error.status !== 0 && error.status < 500) throw error;
    return null;
  }
}

/** One's own jobs of a kind in a project that wait or run. */
export async function openJobs(code: string, kind: string): Promise<Job[]> {
  const jobs = await ask(client.GET("/api/jobs"));
  return jobs.filter((job) => job.code === code && job.kind === kind);
}

/** Cancel a job: nothing of it is kept. */
export async function cancelJob(id: string): Promise<void> {
  await ask(client.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: id } } }));
}
