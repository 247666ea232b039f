import type { Choices } from '@hollowmoor/core/remedy/remedy'
import { applyJava } from './applying.js'
import type { Files } from './java.js'

interface Case {
  readonly files: Files
  readonly id: string
  readonly choices?: Choices
  readonly reason: string
  readonly message: string
}

/** An object that nobody can make without being ready for an exception. */
const BELL = `package a;

public class Bell {
    public Bell() throws java.io.IOException { if (System.nanoTime() == 1) throw new java.io.IOException(); }

    public void ring() { }
}
`

/** What is refused in Java, by what it is about. */
const CASES: Record<string, Case> = {
  'what can throw as it is made, for a class without a constructor': {
    files: { 'a/Bell.java': BELL, 'a/Lock.java': 'package a;\n\npublic class Lock {\n    private final Bell bell = new Bell();\n\n    public void open() { bell.ring(); }\n}\n' },
    id: 'inject:a.Lock:a.Bell@bell', reason: 'throws', message: 'Making it can throw IOException, which no constructor here says.'
  },
  'an interface of an interface': {
    files: { 'a/Lock.java': 'package a;\n\npublic interface Lock {\n    void open();\n}\n' }, id: 'extract-interface:a.Lock', reason: 'kind', message: 'Lock is no class.'
  },
  'an interface of a class inside a method': {
    files: { 'a/Desk.java': 'package a;\n\npublic class Desk {\n    public int open() {\n        class Lock {\n            public int rise() { return 1; }\n        }\n        return new Lock().rise();\n    }\n}\n' },
    id: 'extract-interface:a.Desk.open.Lock', reason: 'no-class', message: 'a.Desk.open.Lock is not a class that can be changed here.'
  },
  'a test where nothing says with what the project is tested': {
    files: { 'a/Lock.java': 'package a;\n\npublic class Lock {\n    public int rise(int by) { return by > 3 ? 3 : by; }\n}\n' },
    id: 'first-test:a.Lock', reason: 'no-tests', message: 'Nothing says with what this project is tested: no test is there, and JUnit is not on its class path.'
  },
  'one interface for classes of which no other has the shape': {
    files: { 'a/Lock.java': 'package a;\n\npublic class Lock {\n    public void open() { }\n\n    public void close() { }\n}\n' },
    id: 'shared-interface:a.Lock', reason: 'no-shape', message: 'No other class has its shape any more.'
  },
  'a test of a class that does nothing of its own': {
    files: { 'a/Lock.java': 'package a;\n\npublic class Lock {\n    public String name = "";\n}\n' },
    id: 'first-test:a.Lock', reason: 'no-logic', message: 'Lock does nothing of its own that a test could hold.'
  }
}

describe('refused in Java, with the reason', () => {
  test.each(Object.entries(CASES))('%s', (_, { files, id, choices, reason, message }) => {
    expect(applyJava(files, id, choices)).toMatchObject({ reason, message: expect.stringContaining(message) as string })
  })
})
