/** The query library's client, where what changes while something is asked for the first time is not missed. */
import { QueryClient } from "@tanstack/react-query";

export class Queries extends QueryClient {
  /**
   * The library asks again for what is there. A first answer that is still on its way it only waits for, though that may be from
   * before the change: it is given up, and asked for anew.
   */
  override invalidateQueries: QueryClient["invalidateQueries"] = (filters, options) => {
    const onTheirWay = this.getQueryCache().findAll({
      ...(filters as object),
      type: "active",
      fetchStatus: "fetching",
    });
    for (const one of onTheirWay) if (one.state.data === undefined) one.cancel({ silent: true });
    return QueryClient.prototype.invalidateQueries.call(this, filters as never, options);
  };
}
