import type { KeyboardEvent as ReactKeyboardEvent } from 'react'

/**
 * One thing that keys do: the chords that do it, how they are written, and in which words. A chord is `Ctrl+`, `Alt+` and `Shift+` before
 * the event's `key`; Shift is named
 * only for keys that have a name, since it is part of a letter otherwise.
 */
interface KeyLine {
  chords: readonly string[]
  shown: string
  does: string
  /** The short words of the foot line; without them only the sheet of keys lists it. */
  brief?: string
}

/**
 * Every key of Dystracer, once: the handlers ask `actionOf`, the foot line and the sheet of keys (`?`) are made from it. By place, in the
 * order shown.
 */
export const KEYS = {
  everywhere: {
    find: { chords: ['/', 'Ctrl+k'], shown: '/', does: 'Find anything, or type what to do', brief: 'find' },
    help: { chords: ['?'], shown: '?', does: 'This sheet', brief: 'keys' },
    log: { chords: ['Alt+n', 'Alt+N'], shown: 'Alt+N', does: 'Log an item' },
    undo: { chords: ['Ctrl+z'], shown: 'Ctrl+Z', does: 'Take back your last change' },
  },
  panes: {
    rows: { chords: ['ArrowUp', 'ArrowDown'], shown: '↑↓', does: 'From row to row', brief: 'rows' },
    ends: { chords: ['Home', 'End', 'PageUp', 'PageDown'], shown: 'Home End PgUp PgDn', does: 'To the ends of a list, or a page on' },
    panes: { chords: ['ArrowLeft', 'ArrowRight'], shown: '←→', does: 'From pane to pane', brief: 'panes' },
    open: { chords: ['Enter'], shown: '↵', does: 'Open the row beside its list', brief: 'open' },
    close: { chords: ['Backspace'], shown: '⌫', does: 'Close the pane', brief: 'close' },
  },
  items: {
    choose: { chords: [' '], shown: 'space', does: 'Choose the row for a change of many; on a group, fold it', brief: 'choose' },
    extend: { chords: ['Shift+ArrowUp', 'Shift+ArrowDown'], shown: 'Shift+↑↓', does: 'Choose row after row' },
    edit: { chords: ['e', 'F2'], shown: 'e', does: 'Edit in the row', brief: 'edit' },
    log: { chords: ['n'], shown: 'n', does: 'Log an item', brief: 'log' },
    mine: { chords: ['m'], shown: 'm', does: 'Only mine, or all that is open', brief: 'mine' },
    undo: { chords: ['z'], shown: 'z', does: 'Take back your last change of many', brief: 'undo' },
  },
  triage: {
    accept: {
      chords: ['1', '2', '3', '4', '5'],
      shown: '1–5',
      does: 'Accept at this severity, with what stands chosen',
      brief: 'accept at severity',
    },
    sameAs: { chords: ['s'], shown: 's', does: 'It is the same as another item: choose which', brief: 'same as' },
    sameAsFirst: { chords: ['S'], shown: 'S', does: 'It is the same as the first item that is alike' },
    ask: { chords: ['q'], shown: 'q', does: 'Ask the reporter', brief: 'ask' },
    askStandard: { chords: ['Q'], shown: 'Q', does: 'Ask the usual question at once' },
    reject: { chords: ['x'], shown: 'x', does: 'Reject, with a reason', brief: 'reject' },
    rejectOutright: { chords: ['X'], shown: 'X', does: 'Reject at once: will not be fixed' },
    requirement: { chords: ['r'], shown: 'r', does: 'Take the next proposed requirement', brief: 'requirement' },
    ownerId: { chords: ['o'], shown: 'o', does: 'Take the next proposed owner', brief: 'owner' },
    component: { chords: ['c'], shown: 'c', does: 'Take the next proposed component', brief: 'component' },
    milestone: { chords: ['m'], shown: 'm', does: 'Take the next proposed milestone', brief: 'milestone' },
    choose: { chords: [' '], shown: 'space', does: 'Choose the row, to decide many at once' },
    extend: { chords: ['Shift+ArrowUp', 'Shift+ArrowDown'], shown: 'Shift+↑↓', does: 'Choose row after row' },
    undo: { chords: ['z'], shown: 'z', does: 'Take back your last decision', brief: 'undo' },
  },
  faults: {
    choose: { chords: [' '], shown: 'space', does: 'Choose the row, to do something with many', brief: 'choose' },
    extend: { chords: ['Shift+ArrowUp', 'Shift+ArrowDown'], shown: 'Shift+↑↓', does: 'Choose row after row' },
    undo: { chords: ['z'], shown: 'z', does: 'Take back what you did last', brief: 'undo' },
  },
  unexplained: {
    tie: { chords: ['t'], shown: 't', does: 'The commit is for the first item proposed', brief: 'it is' },
    refuse: { chords: ['x'], shown: 'x', does: 'It is not for the first item proposed', brief: 'it is not' },
    needsNone: { chords: ['n'], shown: 'n', does: 'The commit needs no item', brief: 'needs none' },
  },
  inbox: {
    read: { chords: ['e'], shown: 'e', does: 'Mark it read', brief: 'read' },
    later: { chords: ['l'], shown: 'l', does: 'Tomorrow morning, or back from later', brief: 'later' },
  },
  review: {
    next: { chords: ['j'], shown: 'j', does: 'To the next change', brief: 'next change' },
    previous: { chords: ['k'], shown: 'k', does: 'To the change before', brief: 'change before' },
    more: { chords: ['Shift+ArrowDown', 'Shift+ArrowUp'], shown: 'Shift+↑↓', does: 'Choose a line more, or fewer', brief: 'more lines' },
    remark: { chords: ['c'], shown: 'c', does: 'Remark on the chosen lines', brief: 'remark' },
    seen: { chords: ['.'], shown: '.', does: 'The file is seen, or is not', brief: 'seen' },
    agree: { chords: ['a'], shown: 'a', does: 'Agree', brief: 'agree' },
    askChanges: { chords: ['w'], shown: 'w', does: 'Ask for changes', brief: 'ask for changes' },
  },
  build: {
    mine: { chords: ['m'], shown: 'm', does: 'Only what my commits may have broken, or all', brief: 'only mine' },
  },
  log: {
    nextError: { chords: ['e'], shown: 'e', does: 'To the next error', brief: 'next error' },
    previousError: { chords: ['E'], shown: 'E', does: 'To the error before' },
    nextFound: { chords: ['n'], shown: 'n', does: 'To the next line that holds what is sought', brief: 'next found' },
    previousFound: { chords: ['N'], shown: 'N', does: 'To the one before' },
  },
  outline: {
    fold: { chords: ['ArrowLeft', 'ArrowRight'], shown: '←→', does: 'Fold and unfold, or go to the whole', brief: 'fold' },
    partOf: { chords: ['Alt+ArrowRight'], shown: 'Alt+→', does: 'Make it a part of the thing above', brief: 'part of' },
    partLess: { chords: ['Alt+ArrowLeft'], shown: 'Alt+←', does: 'Take it out of what it is a part of', brief: 'out of' },
    choose: { chords: [' '], shown: 'space', does: 'Choose the row', brief: 'choose' },
    undo: { chords: ['z'], shown: 'z', does: 'Take back your last change of many', brief: 'undo' },
  },
  document: {
    edit: { chords: ['e', 'F2'], shown: 'e', does: 'Write the requirement in place', brief: 'edit' },
    next: { chords: ['n'], shown: 'n', does: 'Write one behind it', brief: 'next' },
    in: { chords: ['Alt+ArrowRight'], shown: 'Alt+→', does: 'Below the one before it', brief: 'in' },
    out: { chords: ['Alt+ArrowLeft'], shown: 'Alt+←', does: 'Out of what it stands below', brief: 'out' },
    up: { chords: ['Alt+ArrowUp'], shown: 'Alt+↑', does: 'Before the one before it', brief: 'up' },
    down: { chords: ['Alt+ArrowDown'], shown: 'Alt+↓', does: 'Behind the one behind it', brief: 'down' },
  },
  agreement: {
    next: { chords: ['ArrowDown', 'j'], shown: '↓ j', does: 'To the next requirement', brief: 'next' },
    previous: { chords: ['ArrowUp', 'k'], shown: '↑ k', does: 'To the one before' },
    agree: { chords: ['a'], shown: 'a', does: 'Agree to it, and go on', brief: 'agree' },
    remark: { chords: ['c'], shown: 'c', does: 'Remark on the marked words', brief: 'remark' },
  },
  sentence: {
    keep: { chords: ['Ctrl+Enter'], shown: 'Ctrl+↵', does: 'Keep what is written', brief: 'keep' },
    next: { chords: ['Ctrl+Shift+Enter'], shown: 'Ctrl+Shift+↵', does: 'Keep it, and write one behind it' },
    split: { chords: ['Alt+Enter'], shown: 'Alt+↵', does: 'Make two of it at the cursor', brief: 'split' },
    join: { chords: ['Alt+Backspace'], shown: 'Alt+⌫', does: 'Join it to the one before', brief: 'join' },
    leave: { chords: ['Escape'], shown: 'Esc', does: 'Leave it as it was' },
  },
  board: {
    cards: { chords: ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'], shown: '←→↑↓', does: 'From card to card', brief: 'cards' },
    back: { chords: ['Alt+ArrowLeft'], shown: 'Alt+←', does: 'Move the card a column back', brief: 'back' },
    on: { chords: ['Alt+ArrowRight'], shown: 'Alt+→', does: 'Move the card a column on', brief: 'on' },
    choose: { chords: [' '], shown: 'space', does: 'Choose the card', brief: 'choose' },
    open: { chords: ['Enter'], shown: '↵', does: 'Open the card', brief: 'open' },
  },
  calendar: {
    things: { chords: ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'], shown: '←→↑↓', does: 'From thing to thing', brief: 'things' },
    move: {
      chords: ['Alt+ArrowUp', 'Alt+ArrowDown', 'Alt+ArrowLeft', 'Alt+ArrowRight'],
      shown: 'Alt+arrows',
      does: 'Move it by a day or a week',
      brief: 'move',
    },
    choose: { chords: [' '], shown: 'space', does: 'Choose the item', brief: 'choose' },
    open: { chords: ['Enter'], shown: '↵', does: 'Open it', brief: 'open' },
  },
} as const satisfies Record<string, Record<string, KeyLine>>

export type KeyPlace = keyof typeof KEYS
export type KeyAction<Place extends KeyPlace> = Extract<keyof (typeof KEYS)[Place], string>
/** What a place is called on the sheet of keys. */
export const KEY_PLACES: Record<KeyPlace, string> = {
  everywhere: 'Everywhere',
  panes: 'Panes and lists',
  items: 'Items',
  triage: 'Triage',
  faults: 'Faults',
  unexplained: 'Commits without an item',
  inbox: 'Inbox',
  review: 'Files of a change',
  build: 'Build',
  log: 'Log of a build',
  outline: 'Outline',
  document: 'Document of requirements',
  agreement: 'Agreement to requirements',
  sentence: 'A requirement being written',
  board: 'Board',
  calendar: 'Calendar',
}

const PLACE_BY_CHORD = new Map<KeyPlace, Map<string, string>>(
  (Object.keys(KEYS) as KeyPlace[]).map((place) => [
    place,
    new Map(linesOf(place).flatMap(([action, { chords }]) => chords.map((chord) => [chord, action] as const))),
  ]),
)

let hasSingleKeys = true

/**
 * Whether letters, digits and signs do something by themselves. Whoever speaks to their computer, or strikes keys by accident, switches
 * them off (WCAG 2.2, 2.1.4); keys with a name and chords go on working.
 */
export function allowSingleKeys(isAllowed: boolean): void {
  hasSingleKeys = isAllowed
}

function isOff(chord: string): boolean {
  return !hasSingleKeys && chord.length === 1 && chord !== ' '
}

/** What the pressed keys do at a place; null where they do nothing there. */
export function actionOf<Place extends KeyPlace>(place: Place, event: PressedKey): KeyAction<Place> | null {
  if (isOff(chordOf(event))) return null
  return (PLACE_BY_CHORD.get(place)?.get(chordOf(event)) as KeyAction<Place> | undefined) ?? null
}

export type PressedKey = Pick<ReactKeyboardEvent | KeyboardEvent, 'key' | 'altKey' | 'ctrlKey' | 'metaKey' | 'shiftKey'>
function chordOf({ key, altKey, ctrlKey, metaKey, shiftKey }: PressedKey): string {
  return `${ctrlKey || metaKey ? 'Ctrl+' : ''}${altKey ? 'Alt+' : ''}${shiftKey && key.length > 1 ? 'Shift+' : ''}${key}`
}

/** The lines of a place in their order. */
export function linesOf(place: KeyPlace): [action: string, line: KeyLine][] {
  return Object.entries<KeyLine>(KEYS[place])
}

/** Panes that are used by the keys of another. */
const SAME_KEYS: Readonly<Record<string, KeyPlace>> = { 'whole-change': 'review' }

/**
 * The foot line of a place: its own keys and those that work everywhere, in brief words. Of two lines with one chord the place's own
 * counts.
 */
export function footLineOf(pane: string): string {
  const place = SAME_KEYS[pane] ?? pane
  const own = place in KEYS ? linesOf(place as KeyPlace) : []
  const taken = new Set(own.flatMap(([, { chords }]) => chords))
  const hasCards = place === 'board' || place === 'calendar' || place === 'triage'
  const general = hasCards
    ? []
    : linesOf('panes').filter(([action, { chords }]) => !(own.length > 0 && action === 'close') && !taken.has(chords[0] ?? ''))
  const lines = [...general, ...own, ...linesOf('everywhere')].filter(([, { chords }]) => !isOff(chords[0] ?? ''))
  return lines.flatMap(([, { shown, brief }]) => (brief === undefined ? [] : [`${shown} ${brief}`])).join('   ')
}
