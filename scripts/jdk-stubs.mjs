// Makes the index of the JDK's public signatures that ships with Hollowmoor, from the jmods of an installed JDK.
// `node scripts/jdk-stubs.mjs [JDK FOLDER]`; run by hand when a newer JDK is to be known.
import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { unzipSync } from 'fflate'
import { readClassFile } from '@hollowmoor/core/read/classfile/class-file'
import { writeStubs } from '@hollowmoor/core/read/classfile/stub-index'

const home = process.argv[2] ?? '/usr/lib/jvm/java-17-openjdk-amd64'
/** Packages that a module exports to everyone; a class elsewhere cannot be named by a project's code. */
const exported = module => new Set(execFileSync(join(home, 'bin/java'), ['--describe-module', module], { encoding: 'utf8' }).split('\n')
  .map(line => /^exports (\S+)$/.exec(line.trim())?.[1]?.replaceAll('.', '/')).filter(Boolean))

const stubs = []
for (const file of readdirSync(join(home, 'jmods')).filter(name => /^(java|jdk)\./.test(name)).sort()) {
  const packages = exported(file.replace(/\.jmod$/, ''))
  const bytes = readFileSync(join(home, 'jmods', file)).subarray(4)
  const entries = unzipSync(bytes, { filter: ({ name }) => name.startsWith('classes/') && name.endsWith('.class') && packages.has(name.slice(8, name.lastIndexOf('/'))) })
  for (const content of Object.values(entries)) {
    const stub = readClassFile(content)
    // Nobody outside a package can name its own classes, but for those that a public class inherits from.
    if (stub) stubs.push(stub)
  }
}
const protectedOrPublic = stub => ({ ...stub, fields: stub.fields.filter(one => one.flags & 5), methods: stub.methods.filter(one => one.flags & 5) })
const text = writeStubs(stubs.map(protectedOrPublic))
const packed = gzipSync(text, { level: 9 })
writeFileSync(new URL('../packages/core/data/jdk.stubs.gz', import.meta.url), packed)
console.log(`${stubs.length} classes, ${text.length} characters, ${packed.length} bytes packed`)
