import { createRouter, createWebHistory } from 'vue-router'

/** A URL for every view and selection. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/write' },
    { path: '/model/:table?', name: 'model', component: () => import('./views/model/ModelView.vue') },
    { path: '/write/:hook?', name: 'write', component: () => import('./views/write/WriteView.vue') },
    { path: '/rehearse/:table?/:id?', name: 'rehearse', component: () => import('./views/rehearse/RehearseView.vue') },
    { path: '/prove/:hook?', name: 'prove', component: () => import('./views/prove/ProveView.vue') },
    {
      path: '/fixtures/:set?/:table?',
      name: 'fixtures',
      component: () => import('./views/fixtures/FixturesView.vue'),
      meta: { within: 'prove' },
    },
    { path: '/release/:plugin?', name: 'release', component: () => import('./views/release/ReleaseView.vue') },
    {
      path: '/keys',
      name: 'keys',
      component: () => import('./views/release/KeysView.vue'),
      meta: { within: 'release' },
    },
    { path: '/records/:table?/:id?', name: 'records', component: () => import('./views/records/RecordsView.vue') },
    {
      path: '/backfills/:id?',
      name: 'backfills',
      component: () => import('./views/records/backfill/BackfillsView.vue'),
      meta: { within: 'records' },
    },
    {
      path: '/saves/:id?',
      name: 'saves',
      component: () => import('./views/records/saves/SavesView.vue'),
      meta: { within: 'records' },
    },
    {
      path: '/outbox',
      name: 'outbox',
      component: () => import('./views/records/outbox/OutboxView.vue'),
      meta: { within: 'records' },
    },
    {
      path: '/backups',
      name: 'backups',
      component: () => import('./views/records/BackupsView.vue'),
      meta: { within: 'records' },
    },
    { path: '/:rest(.*)*', redirect: '/write' },
  ],
})

export const VIEWS = [
  { name: 'model', word: 'Model', key: '1' },
  { name: 'write', word: 'Write', key: '2' },
  { name: 'rehearse', word: 'Rehearse', key: '3' },
  { name: 'prove', word: 'Prove', key: '4' },
  { name: 'release', word: 'Release', key: '5' },
  { name: 'records', word: 'Records', key: '6' },
] as const
