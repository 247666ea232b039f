import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
  routes: [
    { path: '/', name: 'projects', component: () => import('./views/projects/ProjectsView.vue') },
    { path: '/projects/:project(\\d+)', name: 'land', component: () => import('./views/land/LandView.vue') },
    { path: '/projects/:project(\\d+)/modules', name: 'modules', component: () => import('./views/land/ModulesView.vue') },
    { path: '/projects/:project(\\d+)/findings', name: 'findings', component: () => import('./views/findings/FindingsView.vue') },
    { path: '/projects/:project(\\d+)/cycles', name: 'cycles', component: () => import('./views/cycles/CyclesView.vue') },
    { path: '/projects/:project(\\d+)/classes', name: 'classes', component: () => import('./views/classes/ClassesView.vue') },
    { path: '/projects/:project(\\d+)/class', name: 'class', component: () => import('./views/classes/ClassView.vue') },
    { path: '/projects/:project(\\d+)/changes', name: 'changes', component: () => import('./views/changes/ChangesView.vue') },
    { path: '/projects/:project(\\d+)/changes/new', name: 'new-change', component: () => import('./views/changes/NewChangeView.vue') },
    { path: '/projects/:project(\\d+)/changes/:change(\\d+)', name: 'change', component: () => import('./views/changes/ChangeView.vue') },
    { path: '/projects/:project(\\d+)/history', name: 'history', component: () => import('./views/history/HistoryView.vue') },
    { path: '/projects/:project(\\d+)/settings', name: 'settings', component: () => import('./views/projects/SettingsView.vue') },
    { path: '/:path(.*)*', name: 'missing', component: () => import('./views/MissingView.vue') }
  ]
})
