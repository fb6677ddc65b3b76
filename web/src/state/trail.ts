/** A trail as it is seen: the branch that one stands on from its beginning to its end, long stretches folded, and the others below. */
import type { Step } from '../api/client'

/** A stretch of steps that are folded together, or one step. */
export type Stretch = { step: Step } | { folded: Step[] }

export interface Branch {
  /** The step that it leaves from. */
  from: number
  steps: Step[]
}

export interface TrailShape {
  main: Stretch[]
  branches: Branch[]
  /** The last step of each branch, that which one stands on among them, in the order in which they leave. */
  ends: Step[]
}

/** Up to how many steps are all shown, how many about the place where one stands are, and from how many on the rest is folded. */
const FEW = 12
const ABOUT = 3
const LEAST_FOLDED = 3

/** Shapes a trail for who stands at a step; unfolded are the first steps of stretches that were opened. */
export function shapeOf(steps: Step[], at: number, unfolded: ReadonlySet<number> = new Set()): TrailShape {
  const children = new Map<number, Step[]>()
  const byId = new Map<number, Step>()
  for (const step of steps) {
    byId.set(step.id, step)
    const parent = step.parent_id ?? 0
    const siblings = children.get(parent)
    if (siblings) siblings.push(step)
    else children.set(parent, [step])
  }
  const onward = (from: Step): Step[] => {
    const chain = [from]
    for (let next = children.get(from.id)?.at(-1); next; next = children.get(next.id)?.at(-1)) chain.push(next)
    return chain
  }
  const path: Step[] = []
  for (let step = byId.get(at); step; step = byId.get(step.parent_id ?? 0)) path.push(step)
  path.reverse()
  const main = path.length > 0 ? [...path.slice(0, -1), ...onward(path.at(-1)!)] : steps.length > 0 ? onward(steps[0]) : []
  const branches = branchesOf(main, children, onward)
  const ends = [...(main.length > 0 ? [main.at(-1)!] : []), ...branches.map((b) => b.steps.at(-1)!)]
  return { main: fold(main, at, unfolded), branches, ends }
}

/** The branches that leave a chain, and those that leave them, each from where it leaves. */
function branchesOf(chain: Step[], children: Map<number, Step[]>, onward: (from: Step) => Step[]): Branch[] {
  const on = new Set(chain.map((s) => s.id))
  return chain.flatMap((step) =>
    (children.get(step.id) ?? [])
      .filter((child) => !on.has(child.id))
      .flatMap((child) => {
        const steps = onward(child)
        return [{ from: step.id, steps }, ...branchesOf(steps, children, onward)]
      }),
  )
}

/** Folds what lies between the first step, the pins and names, the end, and where one stands. */
function fold(chain: Step[], at: number, unfolded: ReadonlySet<number>): Stretch[] {
  if (chain.length <= FEW) return chain.map((step) => ({ step }))
  const here = chain.findIndex((s) => s.id === at)
  const kept = (step: Step, i: number) =>
    i === 0 || i >= chain.length - 2 || Math.abs(i - here) <= ABOUT || step.pinned || Boolean(step.name)
  const out: Stretch[] = []
  let stretch: Step[] = []
  const end = () => {
    if (stretch.length >= LEAST_FOLDED && !unfolded.has(stretch[0].id)) out.push({ folded: stretch })
    else out.push(...stretch.map((step) => ({ step })))
    stretch = []
  }
  chain.forEach((step, i) => {
    if (!kept(step, i)) return stretch.push(step)
    end()
    return out.push({ step })
  })
  end()
  return out
}

/** A step and all that follow it. */
export function followers(steps: Step[], first: number): Set<number> {
  const all = new Set([first])
  for (const s of steps) if (s.parent_id && all.has(s.parent_id)) all.add(s.id) // parents stand before their children
  return all
}
