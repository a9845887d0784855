/**
 * A copy of what a host gives as JSON: plain objects, whatever a framework keeps them in, and nothing that changes when
 * the host's own does. What is no JSON is left out.
 */
export const plainJson = <T>(given: T): T => JSON.parse(JSON.stringify(given)) as T
