/** How often what is waiting is tried again, ms. */
export const PACE = {
  again: 2500, // an act that met a failure which is not its own
  retry: 1500, // a server that is away
};
