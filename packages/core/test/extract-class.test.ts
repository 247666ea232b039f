import { apply, applyJava } from './applying.js'
import { offersOf } from '@hollowmoor/core/remedy/catalogue'
import type { Choices } from '@hollowmoor/core/remedy/remedy'
import type { Files as JavaFiles } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const FLAT = `export interface Craft { moor(place: string): void }

/** A flat. */
export class Flat implements Craft {
  private load = 0
  // Where it lies.
  private place: string | null = null
  private visits: string[] = []

  constructor(readonly name: string) {}

  add(tonnes: number): void { this.load += tonnes }
  total(): number { return this.load + this.name.length }

  /** Ties it up. */
  override: boolean = false
  moor(place: string): void {
    this.place = place
    this.note(place)
  }

  where(): string { return this.place ?? this.visits.map(one => this.visits[0] + one).join() }

  private note(place: string): void { this.visits.push(place) }
}
`.replace("  override: boolean = false\n", '')

describe('extracting a class in TypeScript', () => {
  test('the group goes with its helpers and comments, what others call stays and hands on', () => {
    expect(apply({ 'flat.ts': FLAT, 'use.ts': "import { Flat } from './flat'\nexport const flat = new Flat('a')\nflat.moor('b')\n" }, 'extract-class:flat.ts#Flat')).toEqual({
      'flat.ts': `export interface Craft { moor(place: string): void }

class FlatPlace {
  // Where it lies.
  private place: string | null = null
  private visits: string[] = []

  moor(place: string): void {
    this.place = place
    this.note(place)
  }

  where(): string { return this.place ?? this.visits.map(one => this.visits[0] + one).join() }

  private note(place: string): void { this.visits.push(place) }
}

/** A flat. */
export class Flat implements Craft {
  private load = 0
  private readonly place = new FlatPlace()

  constructor(readonly name: string) {}

  add(tonnes: number): void { this.load += tonnes }
  total(): number { return this.load + this.name.length }

  /** Ties it up. */
  moor(place: string): void {
    this.place.moor(place)
  }

  where(): string {
    return this.place.where()
  }
}
`
    })
  })

  const type = 'flat.ts#Flat'
  const refused: [string, string, Files, Choices][] = [
    ['a group that uses what stays', 'between', { 'flat.ts': FLAT }, { members: 'load,total,add' }], ['a field that others use', 'used', { 'flat.ts': FLAT }, { members: 'place,moor,note,visits' }],
    ['a field that others see', 'member', { 'flat.ts': FLAT.replace('private place', 'place') }, { members: 'place,visits,moor,where,note' }], ['no field', 'members', { 'flat.ts': FLAT }, { members: 'moor' }],
    ['what is no member', 'member', { 'flat.ts': FLAT }, { members: 'place,sail' }], ['a name that is taken', 'name-taken', { 'flat.ts': FLAT }, { name: 'Craft' }],
    ['a field that the constructor fills', 'used', { 'flat.ts': FLAT.replace('(readonly name: string) {}', '(readonly name: string) { this.place = name }') }, { members: 'place,visits,moor,where,note' }],
    ['another object looked into', 'used', { 'flat.ts': FLAT.replace('  add(', '  same(other: Flat): boolean { return other.place === null }\n  add(') }, { members: 'place,visits,moor,where,note' }],
    ['a method that is overridden and called inside', 'overridden', { 'flat.ts': FLAT.replace("return this.place ??", "this.moor('x'); return this.place ??"), 'wide.ts': "import { Flat } from './flat'\nexport class Wide extends Flat { override moor(): void {} }\n" }, { members: 'place,visits,moor,where,note' }]
  ]
  test.each(refused)('refuses %s', (_, reason, files, choices) => { expect(apply(files, `extract-class:${type}`, choices)).toMatchObject({ reason }) })

  test('is offered for a group that stands by itself, not where all belongs together', () => {
    const { survey, writer } = readProject({ 'flat.ts': FLAT, 'one.ts': 'export class One { private a = 1; up(): number { return this.a++ } down(): number { return this.a-- } }\n' })
    expect(offersOf(survey, writer).filter(one => one.remedy === 'extract-class').map(one => [one.subject, one.title])).toEqual([['flat.ts#Flat', 'Extract a class of place, visits, moor, where, note from Flat'.replace('moor, where, note', 'moor, where, note')]])
  })
})

const JAVA = `package a;

import java.util.ArrayList;
import java.util.List;

/** A flat. */
public class Flat {
    public static final int MOST = 9;
    private final String name;
    private int load;
    /** Where it lies. */
    private String place;
    private final List<String> visits = new ArrayList<>();

    public Flat(String name) {
        this.name = name;
    }

    public int add(int tonnes) { load += tonnes; return load + name.length(); }

    /** Ties it up. */
    public final void moor(String at) throws IllegalStateException {
        this.place = at;
        note(at);
    }

    public String where(int index) { return visits.size() > MOST ? place : visits.get(index); }

    private void note(String at) { visits.add(at); }
}
`
describe('extracting a class in Java', () => {
  test('the group goes to a file of its own, what others call stays and hands on', () => {
    expect(applyJava({ 'a/Flat.java': JAVA }, 'extract-class:a.Flat')).toEqual({
      'a/FlatPlace.java': `package a;

import java.util.ArrayList;
import java.util.List;

class FlatPlace {
    /** Where it lies. */
    private String place;
    private final List<String> visits = new ArrayList<>();

    void moor(String at) throws IllegalStateException {
        this.place = at;
        note(at);
    }

    String where(int index) { return visits.size() > Flat.MOST ? place : visits.get(index); }

    private void note(String at) { visits.add(at); }
}
`,
      'a/Flat.java': `package a;

/** A flat. */
public class Flat {
    public static final int MOST = 9;
    private final String name;
    private int load;
    private final FlatPlace place = new FlatPlace();

    public Flat(String name) {
        this.name = name;
    }

    public int add(int tonnes) { load += tonnes; return load + name.length(); }

    /** Ties it up. */
    public final void moor(String at) throws IllegalStateException {
        place.moor(at);
    }

    public String where(int index) {
        return place.where(index);
    }
}
`
    })
  })

  const group = 'place,visits,moor,where,note'
  const refused: [string, string, JavaFiles, Choices][] = [
    ['a group that uses what stays', 'between', { 'a/Flat.java': JAVA }, { members: 'load,add' }], ['a field that others use', 'used', { 'a/Flat.java': JAVA }, { members: 'place,moor,note,visits' }],
    ['a serializable class', 'serializable', { 'a/Flat.java': JAVA.replace('class Flat {', 'class Flat implements java.io.Serializable {') }, { members: group }],
    ['the object itself handed on', 'between', { 'a/Flat.java': JAVA.replace('note(at);', 'note(this.toString());') }, { members: group }],
    ['synchronized methods', 'member', { 'a/Flat.java': JAVA.replace('public final void moor', 'public synchronized void moor') }, { members: group }],
    ['annotations that something else reads', 'framework', { 'a/Flat.java': JAVA.replace('    private String place', '    @Column\n    private String place').replace('/** A flat. */', '@interface Column { }\n\n/** A flat. */') }, { members: group }],
    ['a reserved name', 'name', { 'a/Flat.java': JAVA }, { name: 'class' }]
  ]
  test.each(refused)('refuses %s', (_, reason, files, choices) => { expect(applyJava(files, 'extract-class:a.Flat', choices)).toMatchObject({ reason }) })
})
