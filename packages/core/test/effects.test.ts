import type { ClassStub } from '@hollowmoor/core/read/classfile/class-file'
import { EffectCatalogue } from '@hollowmoor/core/effect/catalogue'
import { JAVA_EFFECTS } from '@hollowmoor/core/effect/java'
import { bitOf, EFFECT_KINDS, kindsIn, notKnownOf, outsideOf } from '@hollowmoor/core/effect/kinds'
import { catalogueOf } from '@hollowmoor/core/effect/shipped'
import { TYPESCRIPT_EFFECTS } from '@hollowmoor/core/effect/typescript'
import { tools } from './java.js'

describe('a catalogue of effects', () => {
  const catalogue = new EffectCatalogue([
    { match: 'kit', effect: 'network' }, { match: 'kit#Frame', effect: 'pure' }, { match: 'kit#Frame.send', effect: 'device' }, { match: '@scope/*', effect: 'database' }, { match: '@scope/sums', effect: 'pure' },
    { match: 'kit#Panel', effect: 'framework', when: 'extended' }, { match: 'time#now()', effect: 'clock' }, { match: 'time', effect: 'pure' }
  ])

  test('the longest member wins, the whole name over a star, and what nobody speaks of is unknown', () => {
    expect(catalogue.effectOf('kit', 'open')).toBe('network')
    expect(catalogue.effectOf('kit', 'Frame')).toBe('pure')
    expect(catalogue.effectOf('kit', 'Frame.pack')).toBe('pure')
    expect(catalogue.effectOf('kit', 'Frame.send')).toBe('device')
    expect(catalogue.effectOf('kit', 'Framework')).toBe('network')
    expect(catalogue.effectOf('@scope/any', 'x')).toBe('database')
    expect(catalogue.effectOf('@scope/sums', 'x')).toBe('pure')
    expect(catalogue.effectOf('other', 'x')).toBe('unknown')
  })

  test('extending is told apart from using, and a call without arguments from one with some', () => {
    expect(catalogue.effectOf('kit', 'Panel')).toBe('network')
    expect(catalogue.effectOf('kit', 'Panel', 'extended')).toBe('framework')
    expect(catalogue.effectOf('time', 'now')).toBe('pure')
    expect(catalogue.effectOf('time', 'now()')).toBe('clock')
    expect(catalogue.tellsBare('time', 'now')).toBe(true)
    expect(catalogue.tellsBare('time', 'then')).toBe(false)
  })

  test("a project's own entries correct what ships", () => {
    expect(catalogueOf('java').effectOf('java.nio.file', 'Files.copy')).toBe('file-system')
    expect(catalogueOf('java', [{ match: 'java.nio.file', effect: 'pure' }, { match: 'signalkit', effect: 'network' }]).effectOf('signalkit', 'MastLink.send')).toBe('network')
    expect(catalogueOf('java', [{ match: 'java.nio.file#Files', effect: 'pure' }]).effectOf('java.nio.file', 'Files.copy')).toBe('pure')
  })
})

test('what logging touches is borne, what is not known keeps a type from being called alone', () => {
  const set = bitOf('logging') | bitOf('unknown')
  expect(kindsIn(set)).toEqual(['logging', 'unknown'])
  expect([outsideOf(set), notKnownOf(set)]).toEqual([0, bitOf('unknown')])
})

test.each([['typescript', TYPESCRIPT_EFFECTS], ['java', JAVA_EFFECTS]] as const)('every entry for %s says something that no other contradicts', (_, entries) => {
  const seen = new Map<string, string>()
  for (const { match, effect, when } of entries) {
    expect([...EFFECT_KINDS, 'pure']).toContain(effect)
    const key = `${match} ${when ?? ''}`
    expect({ match, effect: seen.get(key) ?? effect }).toEqual({ match, effect })
    seen.set(key, effect)
  }
})

test("members of the JDK that the catalogue names exist in the JDK's own signatures", () => {
  const missing: string[] = []
  const has = (stub: ClassStub, name: string): boolean => stub.methods.some(one => one.name === name) || stub.fields.some(one => one.name === name) || stub.inner.some(one => one.endsWith(`$${name}`))
  for (const { match } of JAVA_EFFECTS) {
    const [external, member] = match.split('#') as [string, string | undefined]
    if (member === undefined || !external.startsWith('java.')) continue
    const [type, name] = member.replace(/\(\)$/, '').split('.') as [string, string | undefined]
    const found = tools.jdk.stub(`${external.replaceAll('.', '/')}/${type}`)
    if (!found) { if (!NESTED.has(type)) missing.push(match); continue }
    if (name !== undefined && !has(found, name)) missing.push(match)
  }
  expect(missing).toEqual([])
})

/** Types that stand inside others, which facts name by their own name alone. */
const NESTED = new Set(['Logger', 'BodyPublishers', 'BodyHandlers', 'Builder', 'Shutdown'])
