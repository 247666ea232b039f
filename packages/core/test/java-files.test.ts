import { findJavaFiles } from '@hollowmoor/core/read/java/project-files'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import type { Files } from './java.js'
import { javaSource } from './java.js'
import { OverlayFileSource } from '@hollowmoor/core/read/file-source'

/** Finds the Java files of a project below `/hm-test`, with local repositories below `/home`. */
function found(files: Files, home: string[] = []) {
  const source = new OverlayFileSource(new Map(home.map(path => [`/home/${path}`, ''])), javaSource(files))
  return findJavaFiles(source, '/hm-test', '/home', DEFAULT_SETTINGS)
}

const pom = (dependencies: string, more = '') => `<project><groupId>g</groupId><artifactId>self</artifactId>${more}<dependencies>${dependencies}</dependencies></project>`
const dependency = (group: string, artifact: string, version?: string) => `<dependency><groupId>${group}</groupId><artifactId>${artifact}</artifactId>${version ? `<version>${version}</version>` : ''}</dependency>`

describe('Java sources', () => {
  test('are found in any layout; what a build made is not', () => {
    const { sources, isTest } = found({
      'pom.xml': pom(''), 'src/main/java/a/A.java': '', 'src/test/java/a/ATest.java': '', 'target/generated-sources/a/G.java': '', 'one/build/B.java': '', 'plain/C.java': '', 'module-info.java': '', 'a/package-info.java': '', 'x.kt': ''
    })
    expect(sources).toEqual(['plain/C.java', 'src/main/java/a/A.java', 'src/test/java/a/ATest.java'])
    expect(sources.map(isTest)).toEqual([false, false, true])
  })

  test('a folder of that name without a build file beside it is read', () => expect(found({ 'target/T.java': '' }).sources).toEqual(['target/T.java']))

  test('tests are told by folder and by name', () => {
    const { isTest } = found({ 'A.java': '' })
    expect(['src/test/java/A.java', 'a/GateTest.java', 'a/GateTests.java', 'a/GateIT.java', 'a/Contest.java', 'a/Gate.java'].map(isTest)).toEqual([true, true, true, true, false, false])
  })
})

describe('libraries', () => {
  test('lie in the project, or in the local repositories that its build files lead to', () => {
    const { jars, notInstalled } = found({
      'pom.xml': pom(dependency('org.bell', 'bell', '${bell}') + dependency('org.gone', 'gone', '1') + dependency('g', 'self', '1') + dependency('org.loose', 'loose'), '<properties><bell>2.0</bell></properties>'),
      'build.gradle': "dependencies { implementation 'org.rope:rope:3.1'\n testImplementation(\"org.lost:lost:1\") }", 'lib/own.jar': '', 'gradle/wrapper/gradle-wrapper.jar': '', 'A.java': ''
    }, ['.m2/repository/org/bell/bell/2.0/bell-2.0.jar', '.gradle/caches/modules-2/files-2.1/org.rope/rope/3.1/abc/rope-3.1.jar', '.m2/repository/org/loose/loose/1/loose-1.jar', '.m2/repository/org/loose/loose/2/loose-2.jar'])
    expect([...jars].sort()).toEqual(['/hm-test/lib/own.jar', '/home/.gradle/caches/modules-2/files-2.1/org.rope/rope/3.1/abc/rope-3.1.jar', '/home/.m2/repository/org/bell/bell/2.0/bell-2.0.jar', '/home/.m2/repository/org/loose/loose/2/loose-2.jar'])
    expect(notInstalled).toEqual(['org.gone:gone', 'org.lost:lost'])
  })

  test('a build file leads nowhere else', () => {
    const { jars } = found({ 'pom.xml': pom(dependency('..', 'x', '1') + dependency('a', '../../../../etc', '1') + dependency('a', 'b', '../../x') + dependency('a/b', 'c', '1')), 'A.java': '' }, ['etc/etc-1.jar', '.m2/x/x-1.jar', '.m2/repository/a/b/c/1/c-1.jar'])
    expect(jars).toEqual([])
  })

  test('without Java sources nothing is looked for', () => expect(found({ 'lib/own.jar': '', 'a.ts': '' })).toMatchObject({ jars: [], sources: [], notInstalled: [] }))
})
