import { createRouter, createWebHistory } from 'vue-router'

export const PLACES = [
  { key: 'plan', name: 'Plan' },
  { key: 'quests', name: 'Quests' },
  { key: 'dialogue', name: 'Dialogue' },
  { key: 'items', name: 'Items & facts' },
  { key: 'playtest', name: 'Playtest' },
  { key: 'findings', name: 'Findings' },
  { key: 'proof', name: 'Proof' },
  { key: 'history', name: 'History' },
  { key: 'project', name: 'Project' },
] as const

export type PlaceKey = (typeof PLACES)[number]['key']

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/', name: 'projects', component: () => import('./projects/ProjectsPlace.vue') },
    {
      path: '/p/:project(\\d+)',
      component: () => import('./ProjectFrame.vue'),
      children: [
        { path: '', redirect: (to) => `/p/${String(to.params.project)}/plan` },
        { path: 'plan/:selected?', name: 'plan', component: () => import('./plan/PlanPlace.vue') },
        { path: 'quests/:selected?', name: 'quests', component: () => import('./quests/QuestsPlace.vue') },
        { path: 'dialogue/:selected?', name: 'dialogue', component: () => import('./dialogue/DialoguePlace.vue') },
        { path: 'items/:selected?', name: 'items', component: () => import('./items/ItemsPlace.vue') },
        { path: 'findings/:selected?', name: 'findings', component: () => import('./findings/FindingsPlace.vue') },
        { path: 'proof/:selected?', name: 'proof', component: () => import('./proof/ProofPlace.vue') },
        { path: 'history/:selected?', name: 'history', component: () => import('./history/HistoryPlace.vue') },
        { path: 'project/:selected?', name: 'project', component: () => import('./settings/ProjectPlace.vue') },
        { path: 'playtest/:selected?', name: 'playtest', component: () => import('./playtest/PlaytestPlace.vue') },
      ],
    },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})
