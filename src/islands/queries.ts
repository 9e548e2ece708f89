import { type DefaultOptions, QueryClient } from "@tanstack/react-query";

/** Questions to the product's own server, asked whether or not the machine has a network: the server is mostly this machine. */
export const localQueries = (queries: DefaultOptions["queries"] = {}) =>
  new QueryClient({ defaultOptions: { queries: { networkMode: "always", ...queries }, mutations: { networkMode: "always" } } });
