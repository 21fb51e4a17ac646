import { createRouter, createWebHistory } from 'vue-router'

import { freshStart } from './kit/state/use-read'

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/', name: 'desk', component: () => import('./sections/desk/DeskPage.vue') },
    {
      path: '/cardholders',
      name: 'cardholders',
      component: () => import('./sections/cardholders/CardholdersPage.vue'),
    },
    {
      path: '/cardholders/new',
      name: 'new-cardholder',
      component: () => import('./sections/cardholders/CardholderPage.vue'),
      props: { id: null },
      // each draft of somebody new has an address of its own
      beforeEnter: (to) => (to.query.start ? true : { ...to, query: { ...to.query, start: freshStart() } }),
      meta: { isKeyed: true },
    },
    {
      path: '/cardholders/:id(\\d+)',
      name: 'cardholder',
      component: () => import('./sections/cardholders/CardholderPage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
      meta: { isKeyed: true },
    },
    {
      path: '/cardholders/lists',
      name: 'intakes',
      component: () => import('./sections/intakes/IntakesPage.vue'),
    },
    {
      path: '/cardholders/lists/:id(\\d+)',
      name: 'intake',
      component: () => import('./sections/intakes/IntakePage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
      meta: { isKeyed: true },
    },
    {
      path: '/cards/:part(number|stock|row|life|pins|formats)?',
      name: 'cards',
      component: () => import('./sections/cards/CardsPage.vue'),
    },
    {
      path: '/access/:part(groups|schedules|holidays|doors|emergencies|questions|reviews|plan)?/:id(\\d+|[a-z]+|door-\\d+)?',
      name: 'access',
      component: () => import('./sections/access/AccessPage.vue'),
    },
    { path: '/delivery', name: 'delivery', component: () => import('./sections/delivery/DeliveryPage.vue') },
    { path: '/activity', name: 'activity', component: () => import('./sections/activity/ActivityPage.vue') },
    {
      path: '/activity/unknown-cards',
      name: 'unknown-cards',
      component: () => import('./sections/activity/UnknownCardsPage.vue'),
    },
    {
      path: '/activity/journal',
      name: 'journal',
      component: () => import('./sections/activity/JournalPage.vue'),
    },
    {
      path: '/setup/:part(places|departments|companies|kinds|own-fields|rules|cards|biometrics|readers|operators|roles|tokens)?',
      name: 'setup',
      component: () => import('./sections/setup/SetupPage.vue'),
    },
    { path: '/account', name: 'account', component: () => import('./sections/account/AccountPage.vue') },
    // shown by the application itself, whoever is signed in
    { path: '/password/:who/:token', name: 'password', component: { render: () => null } },
    { path: '/:rest(.*)', name: 'nowhere', component: () => import('./frame/NoPage.vue') },
  ],
})
