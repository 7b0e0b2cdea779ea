type Rows = [key: string, does: string][]

/** What the keys do in every place. */
export const EVERYWHERE: Rows = [
  ['Ctrl Enter', 'walk, and come back'],
  ['/', 'find'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['Alt 1 … 9', 'walk from a start card'],
  ['Alt J', 'to the next finding'],
  ['Alt K', 'to the finding before'],
  ['?', 'this help; Esc closes it'],
]

/** What they do in one. */
export const HERE: Record<string, Rows> = {
  plan: [
    ['double-click', 'place something that works'],
    ['letters', 'the same, with nothing selected'],
    ['W', 'draw walls and areas'],
    ['M', 'measure'],
    ['Shift drag', 'select several'],
    ['Ctrl click', 'one more, one less'],
    ['Ctrl drag', 'drag a copy out'],
    ['arrows', 'nudge by 0.25 m, with Shift by 0.05 m'],
    ['[ ]', 'turn by 15°'],
    ['Ctrl D', 'duplicate'],
    ['Ctrl A', 'all objects of the level'],
    ['Delete', 'delete'],
    ['+ −', 'zoom'],
    ['0', 'all of the level'],
    ['Ctrl E', 'a cue as text, and back'],
    ['Alt ↑ ↓', 'a need or step earlier, later'],
    ['Ctrl C X V', 'copy, cut, paste a need or step'],
    ['Alt Shift ↑ ↓', 'a cue earlier, later'],
  ],
  quests: [
    ['N', 'new quest'],
    ['B', 'new bead after this one'],
    ['Alt ← →', 'move the bead'],
  ],
  dialogue: [
    ['O', 'new opener, above those that always fit'],
    ['Enter', 'what is said after this line'],
    ['R', 'an answer to this line'],
    ['Tab', 'while writing: an answer, or what follows one'],
    ['Shift Tab', 'while writing: back to a line'],
    ['↑ ↓', 'the line before, after'],
    ['Alt ↑ ↓', 'the line, or the answer in focus, earlier or later'],
  ],
  items: [
    ['N', 'new item'],
    ['F', 'new fact'],
  ],
  findings: [
    ['J K', 'next, one back'],
    ['Enter', 'do what mends it'],
    ['G', 'go there'],
  ],
  proof: [
    ['J K', 'next, one back'],
    ['V', 'watch the way'],
    ['P', 'prove again'],
  ],
  playtest: [
    ['W A S D', 'walk, or click the floor'],
    ['E F …', 'the controls of the project'],
    ['1–9', 'answer, or press a button of a panel'],
    ['Space', 'skip the voice'],
    ['1 2', 'take on what is offered, or not'],
    ['L', 'all quests, their journal, and what was said'],
    ['F2', 'again'],
    ['F3 F4', 'slower, faster'],
    ['F6', 'pause, go on'],
    ['F7', 'one tick'],
    ['F8', 'reaches'],
    ['F9', 'again from here'],
    ['F10', 'keep this spot as a start card'],
    ['K', 'keep this walk'],
    ['N M', 'names, sounds'],
    ['+ − 0', 'nearer, farther, as usual; or the wheel'],
    ['Esc', 'back to now, after looking at an earlier moment'],
  ],
}
