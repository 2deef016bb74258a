// @ts-check
/** What can be done on this page by a key, for whoever looks for it by its name. */

/** @typedef {{keys: string[], shown: string, label: string, run: (event: KeyboardEvent) => unknown}} Command */

/** @type {Command[]} */
export const commands = [];
