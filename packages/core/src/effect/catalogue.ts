import type { EffectKind } from './kinds.js'

/**
 * What using one thing outside the project means. `match` is `external` or `external#member`: `node:fs`, `@scope/*`,
 * `java.nio.file#Files`, `runtime#Date.now`. A member also stands for what is inside it (`console` for `console.log`);
 * with `()` at its end, for a call or creation without arguments alone. A `*` at the end of an external stands for any rest.
 */
export interface EffectEntry {
  readonly match: string
  /** `pure`: it only computes. */
  readonly effect: EffectKind | 'pure'
  /** Whether it is told of uses, or of classes that extend it; by default of both. */
  readonly when?: 'used' | 'extended'
}

interface Rule { readonly external: string; readonly open: boolean; readonly member: string; readonly effect: EffectKind | 'pure'; readonly when: EffectEntry['when']; readonly order: number }

/**
 * Finds what using an external means. The entry that names the external whole wins over one with `*`, a longer `*` over a
 * shorter, then the longer member; of two that are alike, the later, so that a project's own entries correct what ships.
 */
export class EffectCatalogue {
  private readonly exact = new Map<string, Rule[]>()
  private readonly open: Rule[] = []
  private readonly bare = new Set<string>()
  private readonly known = new Map<string, EffectKind | 'pure'>()

  constructor(entries: readonly EffectEntry[]) {
    entries.forEach(({ match, effect, when }, order) => {
      const [external = '', member = ''] = match.split('#', 2)
      const rule: Rule = { external: external.replace(/\*$/, ''), open: external.endsWith('*'), member, effect, when, order }
      if (rule.open) this.open.push(rule)
      else this.exact.set(external, [...(this.exact.get(external) ?? []), rule])
      if (member.endsWith('()')) this.bare.add(match)
    })
    this.open.sort((a, b) => b.external.length - a.external.length || b.member.length - a.member.length || b.order - a.order)
    for (const rules of this.exact.values()) rules.sort((a, b) => b.member.length - a.member.length || b.order - a.order)
  }

  /** Whether it makes a difference if `member` is called or made without arguments. */
  tellsBare(external: string, member: string): boolean { return this.bare.has(`${external}#${member}()`) }

  /** The effect of using a member (or '' for the whole) of an external. What no entry speaks of is `unknown`. */
  effectOf(external: string, member: string, how: 'used' | 'extended' = 'used'): EffectKind | 'pure' {
    const key = `${how === 'used' ? '' : '+'}${external}#${member}`
    let effect = this.known.get(key)
    if (effect === undefined) this.known.set(key, effect = this.find(external, member, how))
    return effect
  }

  private find(external: string, member: string, how: 'used' | 'extended'): EffectKind | 'pure' {
    const fits = (rule: Rule) => (rule.when === undefined || rule.when === how) && matchesMember(rule.member, member)
    const rule = this.exact.get(external)?.find(fits) ?? this.open.find(one => external.startsWith(one.external) && fits(one))
    return rule?.effect ?? 'unknown'
  }
}

function matchesMember(wanted: string, member: string): boolean {
  return wanted === '' || wanted === member || member === `${wanted}()` || member.startsWith(`${wanted}.`)
}
