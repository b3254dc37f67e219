/** Who can be booked when: capacities, absences, crews and roles of the organisation. */
import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../data/api";

export const staffKey = ["bookable"];

export function useStaff(wanted = true) {
  return useQuery({ queryKey: staffKey, enabled: wanted, queryFn: () => ask(client.GET("/api/bookable")) });
}
