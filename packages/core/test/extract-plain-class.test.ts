import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Applied } from './applying.js'
import { apply, applyJava } from './applying.js'
import type { Files as JavaFiles } from './java.js'
import { readJava } from './java.js'
import type { Files } from './project.js'
import { readProject } from './project.js'

const ID = 'extract-plain-class:panel.ts#Panel'
const KIT = 'export declare class View { write(row: number, text: string): void; protected refresh(tick: number): void; readonly rows: number }\nexport declare const BLANK: string\n'
const panel = (body: string, more = '') => `import { BLANK, View } from 'kit'
import type { Gauge } from './gauge'
import { floor } from './gauge'

/** Beside the gate. */
export class Panel extends View {
  private shown = 0

  constructor(private readonly gauge: Gauge, private readonly name: string) {
    super()
  }

  protected refresh(tick: number): void {
${body}
  }
${more}}
`
const BODY = `    const level = this.gauge.level()
    let reason = ''
    // Below the floor nothing opens.
    if (level === undefined) {
      reason = 'no gauge'
    } else if (level < floor(tick)) {
      reason = \`low
at \${level}\`
    }
    this.shown = tick
    this.write(0, reason === '' ? this.name : BLANK)`
const FILES: Files = {
  'node_modules/kit/package.json': '{ "name": "kit", "types": "index.d.ts" }', 'node_modules/kit/index.d.ts': KIT,
  'gauge.ts': 'export interface Gauge { level(): number | undefined }\nexport function floor(tick: number): number { return tick > 3 ? 1 : 2 }\n',
  'panel.ts': panel(BODY)
}
const textOf = (applied: Applied, path: string) => (applied as Record<string, string>)[path]

describe('extracting a plain class in TypeScript', () => {
  test('statements that give back what the method gives back go along, wherever they leave it', () => {
    const applied = apply({ ...FILES, 'panel.ts': panel('    this.write(0, this.name)', `
  word(tick: number, own: string | null): string {
    this.write(1, BLANK)
    const level = this.gauge.level()
    if (level === undefined) return 'no gauge'
    if (own !== null) return own
    return level < floor(tick) ? 'low' : 'high'
  }
`) }, ID)
    expect(textOf(applied, 'panel-logic.ts')).toContain(`  decide(own: string | null, tick: number): string {
    const level = this.gauge.level()
    if (level === undefined) return 'no gauge'
    if (own !== null) return own
    return level < floor(tick) ? 'low' : 'high'
  }
`)
    expect(textOf(applied, 'panel.ts')).toContain('    this.write(1, BLANK)\n    return this.logic.decide(own, tick)\n  }\n')
  })

  test('what a condition tells more of is handed once, as what it is before', () => {
    const applied = apply({ ...FILES, 'panel.ts': panel('    this.write(0, this.name)', `
  private readonly note: string | null = null

  length(least: number): number {
    let sum = least
    if (this.note !== null && this.note.length > 3) {
      sum += this.note.length
    }
    this.write(1, BLANK)
    return sum
  }
`) }, ID)
    expect(textOf(applied, 'panel-logic.ts')).toContain('  decide(least: number, note: string | null) {\n    let sum = least\n    if (note !== null && note.length > 3) {\n      sum += note.length\n    }\n')
    expect(textOf(applied, 'panel.ts')).toContain('    const sum = this.logic.decide(least, this.note)\n')
    // What may be set in between is asked for at each place: there a condition tells nothing of the next.
    const { survey, writer } = readProject({ ...FILES, 'panel.ts': panel('    this.write(0, this.name)', '\n  private note: string | null = null\n\n  length(): void {\n    if (this.note !== null) {\n      console.log(this.note.length)\n    }\n    this.write(1, BLANK)\n  }\n') })
    expect(offersOf(survey, writer, 'panel.ts#Panel').filter(one => one.remedy === 'extract-plain-class')).toEqual([])
  })

  test('what its class alone may name is handed in, and types that it leaves open are left open', () => {
    const applied = apply({ ...FILES, 'panel.ts': panel(BODY.replace("'no gauge'", 'Panel.missing'), "\n  private static missing = 'no gauge'\n") }, ID) as Record<string, string>
    expect(applied['panel-logic.ts']).toContain('reason = missing()')
    expect(applied['panel.ts']).toContain('() => Panel.missing')
    const open = panel('    void tick').replace('class Panel', 'class Panel<Row extends { width: number }>').replace('    void tick', '    this.wide([])') .replace(/\n\}\n$/, '\n  wide(rows: Row[]): Row | undefined {\n    const widest = Math.max(...rows.map(row => row.width))\n    const found: Row | undefined = rows.find(row => row.width === widest)\n    if (widest < 2) return undefined\n    return found\n  }\n}\n')
    const generic = apply({ ...FILES, 'panel.ts': open }, `${ID}:wide`) as Record<string, string>
    expect(generic['panel-logic.ts']).toContain('  decide<Row extends { width: number }>(rows: Row[]): Row | undefined {')
    expect(generic['panel.ts']).toContain('.decide<Row>(rows)')
  })

  test('what does without the framework stands in a class of its own, which is built of what it needs and asked', () => {
    const applied = apply(FILES, ID)
    expect(textOf(applied, 'panel-logic.ts')).toBe(`import { floor } from './gauge'
import type { Gauge } from './gauge'

/** What Panel decides, apart from the framework that builds it. */
export class PanelLogic {
  constructor(private readonly gauge: Gauge) {}

  decide(tick: number) {
    const level = this.gauge.level()
    let reason = ''
    // Below the floor nothing opens.
    if (level === undefined) {
      reason = 'no gauge'
    } else if (level < floor(tick)) {
      reason = \`low
at \${level}\`
    }
    return reason
  }
}
`)
    expect(textOf(applied, 'panel.ts')).toBe(panel(`    const reason = this.logic.decide(tick)
    this.shown = tick
    this.write(0, reason === '' ? this.name : BLANK)`).replace("import { floor } from './gauge'\n", "import { PanelLogic } from './panel-logic'\n").replace('  private shown', '  private readonly logic: PanelLogic\n  private shown')
      .replace('private readonly gauge: Gauge', 'gauge: Gauge').replace('    super()\n', '    super()\n    this.logic = new PanelLogic(gauge)\n'))
  })

  test('gives all that is used behind it, and keeps it settable where it is set again', () => {
    const applied = apply({ ...FILES, 'panel.ts': panel(BODY.replace('this.shown = tick', "this.shown = level ?? 0\n    reason = reason === '' ? 'open' : reason")) }, ID, { name: 'Gate', method: 'look' })
    expect(textOf(applied, 'gate.ts')).toContain('    return { level, reason }\n')
    expect(textOf(applied, 'panel.ts')).toContain('    let { level, reason } = this.gate.look(tick)\n    this.shown = level ?? 0\n')
    const { survey, writer } = readProject(FILES)
    expect(planStep(ID, {}, survey, writer)).toMatchObject({ notes: ['PanelLogic can be built and tested without the framework; Panel keeps 2 of the 5 statements of refresh, and its tests stay as they are.'] })
  })

  const offered = (files: Files) => { const { survey, writer } = readProject(files); return offersOf(survey, writer).filter(one => one.remedy === 'extract-plain-class').map(one => one.title) }

  test.each<[string, string, string[]]>([
    ['is offered for logic in a class that a framework builds', panel(BODY), ['Put 9 lines of Panel.refresh into a plain class']],
    ['leaves what asks the framework', panel(BODY.replace('this.gauge.level()', 'this.rows').replace("'no gauge'", 'BLANK')), []],
    ['leaves what calls a method of the class', panel(BODY.replace("'no gauge'", 'this.none()'), "\n  private none(): string { return 'none' }\n"), []],
    ['leaves what sets a field', panel(BODY.replace("reason = 'no gauge'", 'this.shown = 3')), []],
    ['is nothing for a class without a framework', panel(BODY).replace(' extends View', '').replace('    super()\n', '').replace('    this.write(0, reason', '    console.log(0, reason'), []]
  ])('%s', (_, code, titles) => { expect(offered({ ...FILES, 'panel.ts': code })).toEqual(titles) })

  test('is refused once it is done, and where the name is taken', () => {
    expect(apply({ ...FILES, ...apply(FILES, ID) as Files }, ID)).toMatchObject({ reason: 'nothing-plain' })
    expect(apply({ ...FILES, 'panel-logic.ts': 'export const a = 1\n' }, ID, { name: 'PanelLogic' })).toMatchObject({ reason: 'file-exists' })
    expect(apply(FILES, ID, { method: '1st' })).toMatchObject({ reason: 'name' })
  })
})

const JAVA_ID = 'extract-plain-class:a.Panel'
const javaPanel = (body: string) => `package a;

import javax.swing.JPanel;

public class Panel extends JPanel {
    private final Gauge gauge;
    private final String name;
    private int shown;

    public Panel(Gauge gauge, String name) {
        super();
        this.gauge = gauge;
        this.name = name;
    }

    void show(int tick) throws java.io.IOException {
${body}
    }
}
`
const JAVA_BODY = `        double level = gauge.level();
        String reason = "";
        // Below the floor nothing opens.
        if (level < Gauge.floor(tick)) {
            reason = "low at " + level;
        }
        shown = tick;
        setToolTipText(reason.isEmpty() ? name : reason);`
const JAVA: JavaFiles = { 'a/Gauge.java': 'package a;\n\npublic interface Gauge {\n    double level() throws java.io.IOException;\n    static int floor(int tick) { return tick > 3 ? 1 : 2; }\n}\n', 'a/Panel.java': javaPanel(JAVA_BODY) }

describe('extracting a plain class in Java', () => {
  test('what does without the framework stands in a class of its own, which is built of what it needs and asked', () => {
    const applied = applyJava(JAVA, JAVA_ID)
    expect(textOf(applied, 'a/PanelLogic.java')).toBe(`package a;

import java.io.IOException;

/** What Panel decides, apart from the framework that builds it. */
public class PanelLogic {
    private final Gauge gauge;

    public PanelLogic(Gauge gauge) {
        this.gauge = gauge;
    }

    public String decide(int tick) throws IOException {
        double level = gauge.level();
        String reason = "";
        // Below the floor nothing opens.
        if (level < Gauge.floor(tick)) {
            reason = "low at " + level;
        }
        return reason;
    }
}
`)
    expect(textOf(applied, 'a/Panel.java')).toBe(javaPanel('        String reason = logic.decide(tick);\n        shown = tick;\n        setToolTipText(reason.isEmpty() ? name : reason);')
      .replace('    private final Gauge gauge;\n', '    private final PanelLogic logic;\n').replace('        this.gauge = gauge;\n', '        this.logic = new PanelLogic(gauge);\n'))
  })

  test('gives all that is used behind it', () => {
    const applied = applyJava({ ...JAVA, 'a/Panel.java': javaPanel(JAVA_BODY.replace('shown = tick', 'shown = (int) level')) }, JAVA_ID)
    expect(textOf(applied, 'a/PanelLogic.java')).toContain('        return new Decision(level, reason);\n    }\n\n    /** What it decides. */\n    public static final class Decision {\n        public final double level;\n        public final String reason;\n')
    expect(textOf(applied, 'a/Panel.java')).toContain('        PanelLogic.Decision decision = logic.decide(tick);\n        double level = decision.level;\n        String reason = decision.reason;\n        shown = (int) level;\n')
  })

  const offered = (files: JavaFiles) => { const { survey, language, state } = readJava(files); return offersOf(survey, language.writer(state)).filter(one => one.remedy === 'extract-plain-class').map(one => one.title) }

  test.each<[string, string, string[]]>([
    ['is offered for logic in a class of a framework', javaPanel(JAVA_BODY), ['Put 6 lines of Panel.show into a plain class']],
    ['leaves what asks the framework', javaPanel(JAVA_BODY.replace('reason = "low at " + level', 'reason = getName()')), []],
    ['leaves what sets a field', javaPanel(JAVA_BODY.replace('reason = "low at " + level', 'shown = 3')), []],
    ['is nothing for a class without a framework', javaPanel(JAVA_BODY).replace(' extends JPanel', '').replace('setToolTipText(', 'System.out.println('), []]
  ])('%s', (_, code, titles) => { expect(offered({ ...JAVA, 'a/Panel.java': code })).toEqual(titles) })

  test('is refused once it is done', () => {
    expect(applyJava({ ...JAVA, ...applyJava(JAVA, JAVA_ID) as JavaFiles }, JAVA_ID)).toMatchObject({ reason: 'nothing-plain' })
  })
})
