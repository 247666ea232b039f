import { apply, applyJava } from './applying.js'
import { choicesOf, offersOf } from '@hollowmoor/core/remedy/catalogue'
import { commonName } from '@hollowmoor/core/remedy/shared-interface'
import { readProject } from './project.js'

const sender = (name: string, more = '') => `export class ${name}Sender {\n  open(place: string): void { void place }\n  send(text: string): number { return text.length }\n  fold(): void { void 0 }\n${more}}\n`
const FILES = { 'radio.ts': sender('Radio', '  tune(): void {}\n'), 'post/mail.ts': sender('Mail') }

test('classes of one shape in TypeScript implement one interface, named by what their names share', () => {
  expect(apply(FILES, 'shared-interface:radio.ts#RadioSender')).toEqual({
    'sender.ts': 'export interface Sender {\n  open(place: string): void\n  send(text: string): number\n  fold(): void\n}\n',
    'radio.ts': `import { Sender } from './sender'\n\n${FILES['radio.ts'].replace('RadioSender {', 'RadioSender implements Sender {')}`,
    'post/mail.ts': `import { Sender } from '../sender'\n\n${FILES['post/mail.ts'].replace('MailSender {', 'MailSender implements Sender {')}`
  })
})

test('members can be left out, and it is offered on each of the classes', () => {
  const { survey, writer } = readProject(FILES)
  expect(offersOf(survey, writer).filter(one => one.remedy === 'shared-interface').map(one => one.subject)).toEqual(['post/mail.ts#MailSender', 'radio.ts#RadioSender'])
  expect(choicesOf('shared-interface:radio.ts#RadioSender', survey, writer)?.find(one => one.name === 'members')?.value).toBe('open,send,fold')
  expect(apply(FILES, 'shared-interface:post/mail.ts#MailSender', { members: 'send', name: 'Sends' })).toMatchObject({ 'post/sends.ts': 'export interface Sends {\n  send(text: string): number\n}\n' })
})

test('it is not offered where one of the classes is generic, whatever its type parameters are called', () => {
  const generic = (name: string) => sender(name).replace('Sender {', 'Sender<Letter> {').replace('text: string', 'text: Letter[]')
  const { survey, writer } = readProject({ 'radio.ts': generic('Radio'), 'mail.ts': generic('Mail') })
  expect(offersOf(survey, writer).filter(one => one.remedy === 'shared-interface')).toEqual([])
  expect(writer.isGeneric('radio.ts#RadioSender')).toBe(true)
})

test.each([['a member that they do not share', 'member', { members: 'tune' }], ['nothing', 'no-members', { members: '' }], ['no other', 'no-members', { others: '' }]])('refuses %s', (_, reason, choices) => {
  expect(apply(FILES, 'shared-interface:radio.ts#RadioSender', choices)).toMatchObject({ reason })
})

test('classes of one shape in Java implement one interface', () => {
  const java = (name: string, pack: string) => `package ${pack};\n\npublic class ${name} {\n    public void open(String place) { }\n\n    public int send(String text) { return 1; }\n\n    public void close2() { }\n    @Override public String toString() { return ""; }\n}\n`
  const made = applyJava({ 'a/Radio.java': java('Radio', 'a'), 'b/Post.java': java('Post', 'b') }, 'shared-interface:a.Radio', { name: 'Sending' })
  expect(made).toMatchObject({
    'a/Sending.java': 'package a;\n\npublic interface Sending {\n    void open(String place);\n    int send(String text);\n    void close2();\n}\n'
  })
  expect((made as Record<string, string>)['b/Post.java']).toBe('package b;\n\nimport a.Sending;\n\npublic class Post implements Sending {\n    @Override\n    public void open(String place) { }\n\n    @Override\n    public int send(String text) { return 1; }\n\n    @Override\n    public void close2() { }\n    @Override public String toString() { return ""; }\n}\n')
})

test('what classes of two packages share is public, though one of them is not', () => {
  const java = (name: string, pack: string) => `package ${pack};\n\nclass ${name} {\n    public void open(String place) { }\n    public int send(String text) { return 1; }\n    public void fold() { }\n}\n`
  expect(applyJava({ 'a/Radio.java': java('Radio', 'a'), 'b/Post.java': java('Post', 'b') }, 'shared-interface:a.Radio', { name: 'Sending' })).toMatchObject({ 'a/Sending.java': expect.stringContaining('public interface Sending {') as string })
})

test.each([[['RadioSender', 'MailSender'], 'Sender'], [['LockPanel', 'LockBoard'], 'Lock'], [['Radio', 'Mail'], '']])('the name that %p share', (names, common) => { expect(commonName(names)).toBe(common) })
