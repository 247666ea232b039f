import { createHash } from 'node:crypto'
import { transformSync } from '@swc/core'
import { compileScript, compileTemplate, parse } from '@vue/compiler-sfc'

/** Compiles single-file components for Jest, with Vue's own compiler; styles are left out. */
export default {
  process(source, filename) {
    const { descriptor, errors } = parse(source, { filename })
    if (errors.length > 0) throw errors[0]
    const id = createHash('sha256').update(filename).digest('hex').slice(0, 8)
    const compiled = descriptor.scriptSetup || descriptor.script
      ? compileScript(descriptor, { id, inlineTemplate: true }).content
      : `${compileTemplate({ id, filename, source: descriptor.template.content }).code}\nexport default { render }\n`
    return transformSync(compiled, { filename: `${filename}.ts`, jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' }, sourceMaps: 'inline' })
  }
}
