import { mount } from '@vue/test-utils'
import type { VueWrapper } from '@vue/test-utils'
import ElementPlus from 'element-plus'
import { createPinia, setActivePinia } from 'pinia'
import type { Component } from 'vue'
import { nextTick } from 'vue'
import type { Router } from 'vue-router'
import { createMemoryHistory, createRouter } from 'vue-router'

// The simulated page has no media; this is imported before what asks for them.
Object.assign(globalThis, { matchMedia: () => ({ matches: false }) })

/** What a request asked, as the server sees it. */
export interface Asked { readonly method: string; readonly path: string; readonly query: URLSearchParams; readonly body: unknown }
/** An answer by `METHOD /path`; an object with `code` and `message` is a refusal. */
export type Answers = Record<string, unknown>

/** A stream of events that a page listens to, open until it is closed. */
export class Stream {
  static opened: Stream[] = []
  onmessage: ((event: { data: string }) => void) | null = null
  closed = false
  constructor(readonly url: string) { Stream.opened.push(this) }
  tell(data: unknown): void { this.onmessage?.({ data: JSON.stringify(data) }) }
  close(): void { this.closed = true }
}

/**
 * Stands in for the server: gives what was agreed, and notes what it was asked. A request that nothing was agreed for fails the
 * test that made it.
 */
export function serve(answers: Answers): Asked[] {
  const asked: Asked[] = []
  Stream.opened = []
  Object.assign(globalThis, {
    EventSource: Stream,
    fetch: async (url: string, { method, body }: { method: string; body?: string }) => {
      const { pathname, searchParams } = new URL(url, 'http://127.0.0.1')
      const one = { method, path: pathname, query: searchParams, body: body === undefined ? undefined : JSON.parse(body) as unknown }
      asked.push(one)
      const key = `${method} ${pathname}`
      if (!(key in answers)) throw new Error(`nobody agreed to answer ${key}`)
      const found = answers[key], answer: unknown = typeof found === 'function' ? (found as (one: Asked) => unknown)(one) : found
      const isRefusal = typeof answer === 'object' && answer !== null && 'code' in answer && 'message' in answer
      return { status: answer === undefined ? 204 : isRefusal ? 409 : 200, ok: !isRefusal, json: async () => JSON.parse(JSON.stringify(answer)) as unknown }
    }
  })
  return asked
}

const Elsewhere = { template: '<p />' }
const NAMES = ['land', 'modules', 'findings', 'cycles', 'classes', 'class', 'changes', 'history', 'settings']

/** Everything that is waited for has come. */
export async function settled(): Promise<void> {
  for (let turn = 0; turn < 12; turn++) { await new Promise(resolve => setTimeout(resolve, 0)); await nextTick() }
}

/** A component in a page of its own at an address of project 1, with what the application gives every component. */
export async function page(component: Component, { at = '/projects/1', props = {}, before }: { at?: string; props?: Record<string, unknown>; before?: () => Promise<unknown> } = {}): Promise<{ shown: VueWrapper; router: Router }> {
  const pinia = createPinia()
  setActivePinia(pinia)
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', name: 'projects', component: Elsewhere }, { path: '/projects/:project/changes/new', name: 'new-change', component: Elsewhere },
      { path: '/projects/:project/changes/:change(\\d+)', name: 'change', component: Elsewhere },
      ...NAMES.map(name => ({ path: `/projects/:project/${name === 'land' ? '' : name}`, name, component: Elsewhere }))
    ]
  })
  await router.push(at)
  await before?.()
  const shown = mount(component, { props, attachTo: document.body, global: { plugins: [pinia, router, ElementPlus] } })
  await settled()
  return { shown, router }
}
