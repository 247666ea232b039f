import type { ClassStub } from '@hollowmoor/core/read/classfile/class-file'
import type { StubSource } from '@hollowmoor/core/read/classfile/stub-index'
import { JavaLanguage } from '@hollowmoor/core/read/java/write/java-language'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { javaSource, tools } from './java.js'

const server: ClassStub = { name: 'net/Server', flags: 1, outer: null, signature: 'Lother/Handling;Lother/Closing;', inner: [], fields: [], methods: [{ name: 'start', flags: 1, signature: '()V' }] }
const jdk: StubSource = {
  stub: name => (name === server.name ? server : tools.jdk.stub(name)),
  hasPackage: name => name === 'net' || tools.jdk.hasPackage(name),
  packageNames: () => ['net', ...tools.jdk.packageNames()]
}

test('a class of a library is read where what it extends lies in a library that is not there', () => {
  const language = new JavaLanguage('/hm-test', DEFAULT_SETTINGS, { ...tools, jdk })
  const { facts } = language.read(javaSource({ 'a/Wharf.java': 'package a;\nimport net.Server;\npublic class Wharf {\n    public void open(Server server) { server.start(); server.handle(1); Object lock = server; }\n}\n' }))
  const [file] = facts.files
  expect(file!.references.map(one => one.member)).toEqual(['Server', 'Server.start', 'Object'])
  // It may be there, and is not guessed at.
  expect(file!.unresolved.map(one => one.name)).toEqual(['handle'])
})
