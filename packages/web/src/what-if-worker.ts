import type { Fabric, HelpfulMove, Rearrangement, RearrangedProject } from '@hollowmoor/core/measure/rearrangement'
import { lookForMoves, rearranged } from '@hollowmoor/core/measure/rearrangement'
import type { WhatIfAnswer, WhatIfQuestion } from './what-if'
import { answerWhatIf } from './what-if'

export type WhatIfRequest =
  | { readonly kind: 'cycle'; readonly id: number; readonly question: WhatIfQuestion }
  /** What the following arrangements are of. */
  | { readonly kind: 'fabric'; readonly fabric: Fabric }
  | { readonly kind: 'arrangement'; readonly id: number; readonly arrangement: Rearrangement }
export type WhatIfResponse =
  | { readonly kind: 'cycle'; readonly id: number; readonly answer: WhatIfAnswer }
  | { readonly kind: 'arrangement'; readonly id: number; readonly answer: RearrangedProject }
  /** Takes longer, and so comes after the arrangement itself. */
  | { readonly kind: 'helpful'; readonly id: number; readonly answer: readonly HelpfulMove[] }

let fabric: Fabric | undefined
let newest = 0
const answer = (response: WhatIfResponse): void => { postMessage(response) }

addEventListener('message', (event: MessageEvent<WhatIfRequest>) => {
  const request = event.data
  if (request.kind === 'fabric') { fabric = request.fabric; return }
  if (request.kind === 'cycle') { answer({ kind: 'cycle', id: request.id, answer: answerWhatIf(request.question) }); return }
  if (!fabric) return
  const { id, arrangement } = request, known = fabric
  newest = id
  answer({ kind: 'arrangement', id, answer: rearranged(known, arrangement) })
  const looking = lookForMoves(known, arrangement)
  const look = (): void => {
    // A question that came meanwhile goes first, and this one is then no longer asked.
    if (newest !== id) return
    const step = looking.next()
    if (step.done) answer({ kind: 'helpful', id, answer: step.value })
    else setTimeout(look)
  }
  setTimeout(look)
})
