import { planStep } from '@hollowmoor/core/remedy/catalogue'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'
import { readJava } from '../../core/test/java.js'
import { printedBy } from './java-running.js'

// What threads see of each other can only be seen where they can be run.
const withJdk = jdkPrograms() ? test : test.skip

const FILES: Files = {
  'a/Log.java': 'package a;\n\nimport java.util.ArrayList;\nimport java.util.List;\n\npublic final class Log {\n    private static final List<String> lines = new ArrayList<>();\n\n    private Log() {\n    }\n\n    public static void add(String text) {\n        lines.add(text);\n    }\n\n    public static int size() {\n        return lines.size();\n    }\n}\n'
}
const ALL = `import a.DefaultLog;
import a.Log;

public class All {
    public static void main(String[] args) throws Exception {
        Log.add("outside");
        int[] seen = new int[3];
        Thread[] threads = new Thread[3];
        for (int one = 0; one < 3; one++) {
            int at = one;
            threads[one] = new Thread(() -> Log.during(new DefaultLog(), () -> {
                for (int times = 0; times <= at; times++) { Log.add("x"); Thread.yield(); }
                Log.during(new DefaultLog(), () -> Log.add("inner"));
                seen[at] = Log.size();
            }));
            threads[one].start();
        }
        for (Thread thread : threads) thread.join();
        try { Log.during(new DefaultLog(), () -> { throw new IllegalStateException(); }); } catch (IllegalStateException error) { Log.add("after"); }
        System.out.println(seen[0] + " " + seen[1] + " " + seen[2] + " " + Log.size());
    }
}
`

withJdk('another stands in for what a thread runs in a call alone, and is gone after it', () => {
  const { survey, language, state } = readJava(FILES)
  const outcome = planStep('make-static-replaceable:a.Log', { swap: 'during' }, survey, language.writer(state))
  if (outcome.refused) throw new Error(outcome.message)
  const after: Files = { ...FILES, ...Object.fromEntries(outcome.changes.map(change => [change.path, change.after!])), 'All.java': ALL }
  expect(after['a/Log.java']).toContain('    public static void add(String text) {\n        instance().add(text);\n    }\n')
  expect(printedBy(after)).toEqual(['1 2 3 2', ''])
})
