import { accessSync, constants, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { runCommand } from './run-command.js'

const UNSHARE = '/usr/bin/unshare'
const PROBE_SECONDS = 10

/**
 * Runs commands so that they see the user's installed packages and can write to them, while everything that they write lands
 * in a layer that goes with the trial. It is an overlay mount in a mount namespace of the command's own, which Linux allows
 * most users; elsewhere there is none.
 */
export class DependencyLayers {
  private constructor(private readonly mounts: readonly string[]) {}

  /** Null where the system does not allow it. `scratch`: where the layers lie. */
  static async over(folders: readonly string[], scratch: string): Promise<DependencyLayers | null> {
    // These characters would end a mount option.
    if (folders.length === 0 || process.platform !== 'linux' || [...folders, scratch].some(path => /[,:\\]/.test(path))) return null
    try {
      accessSync(UNSHARE, constants.X_OK)
      const layers = new DependencyLayers(folders.map((folder, index) => mountOver(folder, join(scratch, 'layers', String(index)))))
      const probe = await runCommand(layers.wrap('exit 0'), { folder: scratch, seconds: PROBE_SECONDS })
      return probe.status === 0 ? layers : null
    } catch {
      return null
    }
  }

  /** The command line that runs a command over the layers, as the user who runs it. */
  wrap(command: string): string {
    const script = ['set -e', ...this.mounts, `exec ${asUser()}sh -c "$1"`].join('\n')
    const namespaces = isRoot() ? '--mount' : '--user --map-root-user --mount'
    return `exec ${UNSHARE} ${namespaces} --propagation private sh -c ${quoted(script)} sh ${quoted(command)}`
  }
}

function mountOver(folder: string, layer: string): string {
  for (const name of ['upper', 'work']) mkdirSync(join(layer, name), { recursive: true })
  const options = [`lowerdir=${folder}`, `upperdir=${join(layer, 'upper')}`, `workdir=${join(layer, 'work')}`, ...(isRoot() ? [] : ['userxattr'])]
  return `mount -t overlay overlay -o ${quoted(options.join(','))} ${quoted(folder)}`
}

function isRoot(): boolean {
  return process.getuid?.() === 0
}

/** Mounting takes the rights of a superuser within the namespace; the command gets back the name of the user who runs it. */
function asUser(): string {
  return isRoot() ? '' : `${UNSHARE} --user --map-user=${process.getuid!()} --map-group=${process.getgid!()} `
}

function quoted(text: string): string {
  return `'${text.replaceAll('\'', '\'\\\'\'')}'`
}
