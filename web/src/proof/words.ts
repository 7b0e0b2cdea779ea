import { counted } from '@/parts/plural'
import type { Remark, Verdict, Way } from '@/stores/proof'

const NUMBERS = 'No One Two Three Four Five Six Seven Eight Nine Ten Eleven Twelve'.split(' ')

/** A number at the beginning of a sentence. */
export const inWords = (n: number): string => NUMBERS[n] ?? String(n)

/** How long a way is: things that the player does, and metres on foot; whether one with fewer may be. */
export function lengthOf(way: Way): string {
  if (!way.counted) return 'from the beginning'
  return `${way.shortest ? '' : 'at most '}${counted(way.counted, 'action')}, ${Math.round(way.metres)} m`
}

/** What is asked, behind the name of the quest. */
export const ASKED: Record<Verdict['what'], string> = {
  can: 'can be done',
  stuck: 'can get stuck',
  lost: 'can be lost',
  failed: 'can fail',
  declined: 'can be declined',
}

/** Whether an answer is one that a designer wants to hear. */
export function isGood(verdict: Pick<Verdict, 'what' | 'answer'>): boolean {
  return verdict.what === 'can' ? verdict.answer === 'yes' : verdict.answer === 'never'
}

/** The answer in a word or two. */
export function answerOf(one: Pick<Verdict, 'answer'>): string {
  return { yes: 'yes', never: 'never', undecided: 'not decided', coming: '…' }[one.answer]
}

/** The last thing that is done on a way: what makes it so. */
export function lastOf(way: Way): string {
  return [...way.steps].reverse().find((s) => s.counts)?.says ?? ''
}

/** The heading of a verdict's page. */
export function titleOf(verdict: Verdict, quest: string): string {
  const actions = `${inWords(verdict.way.counted)} ${verdict.way.counted === 1 ? 'action' : 'actions'}`
  if (verdict.answer === 'coming') return 'Not known yet'
  if (verdict.answer === 'undecided') return `Not decided whether it ${ASKED[verdict.what]}`
  if (verdict.answer === 'yes' && !verdict.way.counted) {
    return {
      can: `${quest} can be done from the beginning`,
      stuck: `A dead end from the beginning`,
      lost: `Lost from the beginning`,
      failed: `Failed from the beginning`,
      declined: `Declined from the beginning`,
    }[verdict.what]
  }
  if (verdict.answer === 'yes') {
    return {
      can: `${actions} to the end`,
      stuck: `${actions} to a dead end`,
      lost: `${actions}, and it is lost`,
      failed: `${actions}, and it has failed`,
      declined: `${actions}, and it is declined`,
    }[verdict.what]
  }
  return {
    can: `${quest} can never be done`,
    stuck: `Nobody gets stuck in ${quest}`,
    lost: `${quest} is never lost for good`,
    failed: `${quest} never fails`,
    declined: `${quest} is never declined`,
  }[verdict.what]
}

/** Why something is not decided, in a sentence. */
export function undecidedBecause(because: string): string {
  const over = because === 'time' || because === 'memory' ? `the ${because} for it was over` : because
  return `It is not decided: ${over}. That is no guess either way.`
}

/** What a verdict means, in a sentence. */
export function meaningOf(verdict: Verdict): string {
  if (verdict.answer === 'coming') return 'It is being worked out, or will be when the project is proved.'
  const length = verdict.way.shortest ? 'shortest way' : 'way'
  if (verdict.answer === 'undecided') return undecidedBecause(verdict.because)
  if (verdict.answer === 'yes') {
    const said = {
      can: `The ${length} to its end. It was walked by the game itself, on foot, from the start.`,
      stuck: 'After these it is under way and can never be done any more, whatever the player does.',
      lost: 'After these it was failed or declined, and can never be done any more.',
      failed: `The ${length} to where it fails.`,
      declined: `The ${length} to where it is declined.`,
    }[verdict.what]
    return verdict.way.shortest ? said : `${said} It was come upon: one with fewer actions may be there.`
  }
  return {
    can: 'Every way to play was gone through: none leads to its end.',
    stuck: 'From everywhere that can be come to while it is under way, some way still leads to its end.',
    lost: 'Wherever it was failed or declined, it can still be had and done.',
    failed: 'No way to play leads there.',
    declined: 'No way to play leads there.',
  }[verdict.what]
}

export const SECTIONS: { sort: Remark['sort']; title: string; none: string }[] = [
  { sort: 'never', title: 'Never happens', none: 'Everything that is written can happen, as far as can be told.' },
  { sort: 'missed', title: 'Can be missed', none: 'Nothing can be missed for good.' },
  { sort: 'order', title: 'Always in this order', none: 'No stage has to wait for one of another quest.' },
  { sort: 'any_order', title: 'In any order', none: 'No two quests are known to come in any order.' },
  { sort: 'wall', title: 'Through walls', none: 'Nothing is worked through a wall.' },
  { sort: 'early', title: 'Before its time', none: 'Nothing that a stage asks for can be worked before it.' },
]

/** What the part of an address after `proof/` names: a verdict, a remark or a gate. */
export const addressOf = (key: string): string => key.replace('/', '.')
export const keyOf = (address: string): string => address.replace('.', '/')
