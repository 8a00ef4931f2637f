/** What the keyboard does, place by place: told on one page, which `?` opens. */
export interface Keys {
  place: string
  does: readonly { keys: readonly string[]; what: string }[]
}

export const KEYS: readonly Keys[] = [
  {
    place: 'Everywhere',
    does: [
      { keys: ['?'], what: 'this page, what the words mean, and the guide' },
      { keys: ['1', '…', '9'], what: 'to the station of that number' },
      { keys: ['Ctrl', 'Z'], what: 'undo the last edit' },
      { keys: ['Ctrl', 'Shift', 'Z'], what: 'redo it' },
      { keys: ['Tab'], what: 'to the next thing that can be used; with Shift to the one before' },
      { keys: ['↑', '↓'], what: 'from row to row of a list' },
      { keys: ['Enter'], what: 'choose what is reached in a list' },
      { keys: ['Esc'], what: 'leave a dialog, a name being typed, or a tool' },
    ],
  },
  {
    place: 'In fields',
    does: [{ keys: ['↑', '↓'], what: 'a step more or less; with Shift ten steps' }],
  },
  {
    place: 'In the view',
    does: [
      { keys: ['←', '→', '↑', '↓'], what: 'move the handle of a parting by 1 mm; with Shift by 10 mm' },
      { keys: ['Enter'], what: 'finish a line that is being drawn' },
      { keys: ['Backspace'], what: 'take its last point back' },
    ],
  },
  {
    place: 'On a mating face',
    does: [{ keys: ['←', '→', '↑', '↓'], what: 'move a joint by 0.5 mm; with Shift by 5 mm' }],
  },
  {
    place: 'On the board of the print log',
    does: [{ keys: ['←', '→'], what: 'a piece to the state before or after' }],
  },
]
