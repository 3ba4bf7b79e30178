// The keys of the page, by the letter that is pressed. A stage adds its own.

/** @type {Record<string, () => void>} */
export const keys = {};

/** Does what a pressed key asks for, if anything. @param {KeyboardEvent} e */
export function pressed(e) {
  if (!Object.hasOwn(keys, e.key)) return;
  e.preventDefault();
  keys[e.key]();
}
