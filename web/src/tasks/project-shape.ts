/** What the forms ask of a project before the server does. */
import { z } from "../parts/zod";

export const projectShape = z.object({
  name: z.string().trim().min(1, "A project needs a name."),
  code: z
    .string()
    .trim()
    .regex(/^[A-Za-z][A-Za-z0-9]{1,7}$/, "Two to eight letters or digits, beginning with a letter."),
  description: z.string(),
  start_day: z.string().min(1, "Choose the day on which it starts."),
  private: z.boolean(),
});
