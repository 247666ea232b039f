import { ref, watch } from 'vue'

const stored = (name: string, otherwise: string) => localStorage.getItem(`hollowmoor.${name}`) ?? otherwise

const theme = ref(stored('theme', matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'))
const editorLink = ref(stored('editorLink', 'vscode://file/{path}:{line}:{column}'))

watch(theme, value => {
  localStorage.setItem('hollowmoor.theme', value)
  document.documentElement.classList.toggle('dark', value === 'dark')
}, { immediate: true })
watch(editorLink, value => localStorage.setItem('hollowmoor.editorLink', value))

/** What the user prefers on this machine: theme, and the form of links into their editor. */
export function usePreferences() {
  /** A link that opens a place in the user's editor. */
  const editorHref = (root: string, file: string, line: number, column = 1) => editorLink.value
    .replaceAll('{path}', encodeURI(`${root}/${file}`)).replaceAll('{line}', String(line)).replaceAll('{column}', String(column))
  return { theme, editorLink, editorHref, toggleTheme: () => { theme.value = theme.value === 'dark' ? 'light' : 'dark' } }
}
