import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { readJava } from './java.js'
import { applyJava } from './java-writing.js'

const PORT = 'package a;\nimport net.wire.SerialPort;\npublic class Serial {\n    private SerialPort port;\n    public void open() { port = new SerialPort(); }\n}\n'
const USER = 'package a;\nclass Monitor {\n    private Serial serial;\n    void show(Serial one) { serial = one; serial.open(); }\n}\n'

describe('a new type that has the name of another', () => {
  test('is not called as what a file imports from a library that is not at hand', () => {
    const { outcome, text } = applyJava({ 'a/Serial.java': PORT, 'a/Monitor.java': USER }, 'extract', 'a.Serial')
    expect(outcome.refused ? outcome.message : outcome.choices.name).toBe('SerialRole')
    expect(text('a/Serial.java')).toContain('public class Serial implements SerialRole {')
  })

  test('is named by its package where the file imports another of its name', () => {
    const { text } = applyJava({ 'a/Serial.java': PORT, 'a/Monitor.java': USER }, 'extract', 'a.Serial', { name: 'SerialPort' })
    expect(text('a/Serial.java')).toContain('public class Serial implements a.SerialPort {')
    expect(text('a/Serial.java')).toContain('    private SerialPort port;')
  })

  test.each([
    ['a class of the JDK that a file beside it imports with all of its package', 'import java.util.*;\nclass Other {\n    List all;\n}\n'],
    ['a class that nobody knows', 'import net.wire.*;\nclass Other {\n    List all;\n}\n']
  ])('does not take the name of %s', (_, other) => {
    const files = { 'a/ListImpl.java': 'package a;\npublic class ListImpl {\n    public int size() { return 1; }\n}\n', 'a/User.java': 'package a;\nclass User { int count(ListImpl of) { return of.size(); } }\n', 'a/Other.java': `package a;\n${other}` }
    const { refused, message } = applyJava(files, 'extract', 'a.ListImpl', { name: 'List' })
    expect(refused).toBe('does-not-compile')
    expect(message).toContain('a/Other.java:4: List would mean a.List')
  })

  test('leaves no file that imports all of two packages without knowing which is meant', () => {
    const files = {
      'a/ListImpl.java': 'package a;\npublic class ListImpl {\n    public int size() { return 1; }\n}\n', 'a/User.java': 'package a;\nclass User { int count(ListImpl of) { return of.size(); } }\n',
      'b/Other.java': 'package b;\nimport a.*;\nimport java.util.*;\nclass Other {\n    List<String> all = new ArrayList<>();\n}\n'
    }
    const { refused, message } = applyJava(files, 'extract', 'a.ListImpl', { name: 'List' })
    expect(refused).toBe('does-not-compile')
    expect(message).toContain('b/Other.java:5: List could be a.List as well')
    // Where none of them says it, it may be called so.
    expect(applyJava({ ...files, 'b/Other.java': 'package b;\nimport a.*;\nimport java.util.*;\nclass Other {\n    Set<String> all;\n}\n' }, 'extract', 'a.ListImpl', { name: 'List' }).refused).toBeNull()
    // What is imported by its name is meant.
    expect(applyJava({ ...files, 'b/Other.java': files['b/Other.java'].replace('import java.util.*;', 'import java.util.*; import java.util.List;') }, 'extract', 'a.ListImpl', { name: 'List' }).refused).toBeNull()
  })

  test('is not proposed with a name that files of the project import', () => {
    const files = { 'a/ListImpl.java': 'package a;\npublic class ListImpl {\n    public int size() { return 1; }\n}\n', 'a/User.java': 'package a;\nimport java.util.List;\nclass User { List<String> names; int count(ListImpl of) { return of.size(); } }\n' }
    const { outcome } = applyJava(files, 'extract', 'a.ListImpl')
    expect(outcome.refused ? outcome.message : outcome.choices.name).toBe('ListPort')
  })
})

test('classes of one shape get no interface with the name of what they implement from a library that is not at hand', () => {
  const sender = (name: string) => `package a;\nimport net.wire.Sender;\npublic class ${name}Sender implements Sender {\n    public void open() { }\n    public void send(String text) { }\n    public int pending() { return 0; }\n    public void drop(int at) { }\n}\n`
  const { survey, language, state } = readJava({ 'a/MailSender.java': sender('Mail'), 'a/RadioSender.java': sender('Radio') })
  const [offer] = offersOf(survey, language.writer(state), undefined, 'shared-interface')
  const step = planStep(offer!.id, {}, survey, language.writer(state))
  expect(step.refused ? step.message : step.choices.name).toBe('MailSenderPort')
})
