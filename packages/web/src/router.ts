import { createRouter, createWebHistory } from 'vue-router'

/** A URL for every view and selection. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'overview', component: () => import('./views/overview/OverviewView.vue') },
    { path: '/model/:table?', name: 'model', component: () => import('./views/model/ModelView.vue') },
    {
      path: '/settings',
      name: 'settings',
      component: () => import('./views/settings/SettingsView.vue'),
      meta: { within: 'model', title: 'Project settings' },
    },
    { path: '/write/:hook?', name: 'write', component: () => import('./views/write/WriteView.vue') },
    { path: '/rehearse/:table?/:id?', name: 'rehearse', component: () => import('./views/rehearse/RehearseView.vue') },
    { path: '/prove/:hook?', name: 'prove', component: () => import('./views/prove/ProveView.vue') },
    {
      path: '/fixtures/:set?/:table?',
      name: 'fixtures',
      component: () => import('./views/fixtures/FixturesView.vue'),
      meta: { within: 'prove', title: 'Fixture sets' },
    },
    { path: '/release/:plugin?', name: 'release', component: () => import('./views/release/ReleaseView.vue') },
    {
      path: '/keys',
      name: 'keys',
      component: () => import('./views/operations/KeysView.vue'),
      meta: { within: 'operations', title: 'API keys' },
    },
    { path: '/records/:table?/:id?', name: 'records', component: () => import('./views/records/RecordsView.vue') },
    {
      path: '/backfills/:id?',
      name: 'backfills',
      component: () => import('./views/operations/backfill/BackfillsView.vue'),
      meta: { within: 'operations', title: 'Backfills' },
    },
    {
      path: '/saves/:id?',
      name: 'saves',
      component: () => import('./views/operations/saves/SavesView.vue'),
      meta: { within: 'operations', title: 'Saves' },
    },
    {
      path: '/outbox',
      name: 'outbox',
      component: () => import('./views/operations/outbox/OutboxView.vue'),
      meta: { within: 'operations', title: 'Outbox' },
    },
    {
      path: '/backups',
      name: 'backups',
      component: () => import('./views/operations/BackupsView.vue'),
      meta: { within: 'operations', title: 'Backups' },
    },
    { path: '/operations', name: 'operations', redirect: '/saves' },
    { path: '/help/:page?', name: 'help', component: () => import('./views/help/HelpView.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})

export const VIEWS = [
  { name: 'overview', word: 'Overview', key: '1' },
  { name: 'model', word: 'Model', key: '2' },
  { name: 'write', word: 'Write', key: '3' },
  { name: 'rehearse', word: 'Rehearse', key: '4' },
  { name: 'prove', word: 'Prove', key: '5' },
  { name: 'release', word: 'Release', key: '6' },
  { name: 'records', word: 'Records', key: '7' },
  { name: 'operations', word: 'Operations', key: '8' },
] as const
