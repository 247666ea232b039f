import { keptValues } from '@hollowmoor/core/read/write/kept-values'
import { apply, applyJava } from './applying.js'
import { toldBy } from './running.js'

const BERTHS = `export interface Boat { readonly name: string; readonly length: number }
export interface Berths {
  moor(boat: Boat): void;
  find(name: string): Boat | undefined;
  berthed(): readonly Boat[];
  isBerthed(boat: Boat): boolean;
  remove(name: string): boolean;
  count(): number;
  longest(): Promise<Boat>;
}
`

test('a fake keeps what it is given and gives it back, by what of it the members ask for', () => {
  const after = apply({ 'berths.ts': BERTHS }, 'test-double:berths.ts#Berths', { as: 'fake' }) as Record<string, string>
  expect(after['berths-fake.ts'] ?? after['berthsFake.ts'] ?? Object.keys(after)).toBe(`import { Berths, Boat } from './berths';

export class BerthsFake implements Berths {
  /** What it was given. */
  readonly kept: Boat[] = [];

  moor(boat: Boat): void {
    this.kept.push(boat);
  }

  find(name: string): Boat | undefined {
    return this.kept.find(one => one.name === name);
  }

  berthed(): readonly Boat[] {
    return [...this.kept];
  }

  isBerthed(boat: Boat): boolean {
    return this.kept.some(one => one === boat);
  }

  remove(name: string): boolean {
    const at = this.kept.findIndex(one => one.name === name);
    if (at >= 0) this.kept.splice(at, 1);
    return at >= 0;
  }

  count(): number {
    return this.kept.length;
  }

  longest(): Promise<Boat> {
    throw new Error('BerthsFake.longest is not written yet');
  }
}
`)
  const main = "import { BerthsFake } from './fake';\nconst berths = new BerthsFake(), teasel = { name: 'Teasel', length: 17 };\nberths.moor(teasel);\nberths.moor({ name: 'Sedge', length: 12 });\nexport const told = [berths.find('Sedge')?.length, berths.isBerthed(teasel), berths.remove('Teasel'), berths.remove('Teasel'), berths.count(), berths.berthed().map(one => one.name)];\n"
  expect(toldBy({ 'main.ts': main, 'fake.ts': Object.values(after)[0]!.replace('./berths', './berths'), 'berths.ts': BERTHS })).toEqual([12, true, true, false, 1, ['Sedge']])
})

test('what is kept under a key is found by it, and what has to be waited for is', async () => {
  const text = "export interface Prices {\n  set(kind: string, price: number): void;\n  get(kind: string): Promise<number | null>;\n  has(kind: string): boolean;\n  delete(kind: string): boolean;\n}\n"
  const files = { 'prices.ts': text.replaceAll('number', 'Price').replace('export', 'export interface Price { readonly pence: number }\nexport') }
  const after = apply(files, 'test-double:prices.ts#Prices', { as: 'fake', name: 'Fake' }) as Record<string, string>
  const [fake] = Object.values(after)
  expect(fake).toContain('readonly kept = new Map<string, Price>();')
  expect(fake).toContain('async get(kind: string): Promise<Price | null> {\n    return this.kept.get(kind) ?? null;\n  }')
  const told = toldBy({ 'main.ts': "import { Fake } from './fake';\nconst all = new Fake();\nall.set('lock', { pence: 3 });\nexport const told = [all.get('lock'), all.get('other'), all.has('lock'), all.delete('lock'), all.has('lock')];\n", 'fake.ts': fake!, ...files }) as unknown[]
  expect(await Promise.all(told)).toEqual([{ pence: 3 }, null, true, true, false])
})

test('what gives nothing back that it was given is refused', () => {
  expect(apply({ 'bell.ts': 'export interface Bell { ring(times: number): void; loud(): boolean }\n' }, 'test-double:bell.ts#Bell', { as: 'fake' })).toEqual({ reason: 'nothing-kept', message: 'Nothing that Bell is given comes back from it, so that a fake would have nothing to keep; write a stub or a spy.' })
  expect(apply({ 'bell.ts': 'export interface Bell { ring(times: number): void }\n' }, 'test-double:bell.ts#Bell', { as: 'mock' })).toMatchObject({ reason: 'as' })
})

test('in Java too: in a list by what it says of itself, and in a map by its key', () => {
  const files = {
    'p/Boat.java': 'package p;\n\npublic interface Boat {\n    String getName();\n\n    int crew();\n}\n',
    'p/Berths.java': 'package p;\n\nimport java.util.List;\nimport java.util.Optional;\n\npublic interface Berths {\n    boolean moor(Boat boat);\n\n    Optional<Boat> find(String name);\n\n    List<Boat> all();\n\n    boolean has(Boat one);\n\n    void remove(String name);\n\n    int size();\n\n    Boat longest();\n}\n',
    'p/Prices.java': 'package p;\n\npublic interface Prices {\n    void put(String kind, Boat boat);\n\n    Boat get(String kind);\n\n    boolean remove(String kind);\n}\n'
  }
  expect(applyJava(files, 'test-double:p.Berths', { as: 'fake' })).toEqual({ 'p/BerthsFake.java': `package p;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;

public class BerthsFake implements Berths {
    /** What it was given. */
    public final List<Boat> kept = new ArrayList<>();

    public boolean moor(Boat boat) {
        kept.add(boat);
        return true;
    }

    public Optional<Boat> find(String name) {
        return kept.stream().filter(one -> Objects.equals(one.getName(), name)).findFirst();
    }

    public List<Boat> all() {
        return new ArrayList<>(kept);
    }

    public boolean has(Boat one) {
        return kept.stream().anyMatch(each -> Objects.equals(each, one));
    }

    public void remove(String name) {
        kept.removeIf(one -> Objects.equals(one.getName(), name));
    }

    public int size() {
        return kept.size();
    }

    public Boat longest() {
        throw new UnsupportedOperationException("BerthsFake.longest is not written yet");
    }
}
` })
  const prices = (applyJava(files, 'test-double:p.Prices', { as: 'fake' }) as Record<string, string>)['p/PricesFake.java']!
  expect(prices).toContain('public final Map<String, Boat> kept = new LinkedHashMap<>();')
  expect(prices).toContain('return kept.remove(kind) != null;')
  expect(applyJava({ 'p/Bell.java': 'package p;\n\npublic interface Bell {\n    void ring(int times);\n}\n' }, 'test-double:p.Bell', { as: 'fake' })).toMatchObject({ reason: 'nothing-kept' })
})

test('what could be kept in two ways is not', () => {
  const one = (name: string, parameters: string[], what: 'nothing' | 'maybe', of = '') => ({ name, parameters: parameters.map(type => ({ name: type, type })), gives: { what, of } })
  expect(keptValues([one('add', ['Boat'], 'nothing'), one('put', ['name', 'Boat'], 'nothing'), one('find', ['name'], 'maybe', 'Boat')], () => [])).toBeUndefined()
  expect(keptValues([one('add', ['Boat'], 'nothing'), one('find', ['name'], 'maybe', 'Boat')], () => [{ name: 'first', type: 'name' }, { name: 'second', type: 'name' }])).toBeUndefined()
  expect(keptValues([one('add', ['Boat'], 'nothing'), one('find', ['name'], 'maybe', 'Boat')], () => [{ name: 'first', type: 'name' }])).toMatchObject({ key: 'first', roles: [{ does: 'keep', by: null }, { does: 'find', by: 'key' }] })
})
