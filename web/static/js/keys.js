// The keys of the page, by the letter that is pressed. A stage adds its own. Whether
// letters act alone, with Alt or not at all is the maker's choice, kept in the browser.

/** @type {Record<string, () => void>} */
export const keys = {};

const KEPT = 'lampfern-keys';
/** How letters act: "alone", "alt" or "never". */
export const keysAct = () => localStorage.getItem(KEPT) ?? 'alone';
export const setKeysAct = (how) => localStorage.setItem(KEPT, how);

/** The letter that a press stands for, or nothing when letters do not act so.
 * @param {KeyboardEvent} e */
export function letter(e) {
  if (e.key === 'Escape') return e.key;
  const how = keysAct();
  if (how === 'never' || e.altKey !== (how === 'alt')) return null;
  const plain = /^Key([A-Z])$/.exec(e.code)?.[1].toLowerCase(); // where Alt makes another sign of it
  return how === 'alt' && e.key.length === 1 && e.key > '~' && plain ? plain : e.key;
}

/** Does what a letter asks for, if anything. @param {KeyboardEvent} e @param {string} k */
export function pressed(e, k) {
  if (!Object.hasOwn(keys, k)) return;
  e.preventDefault();
  keys[k]();
}
