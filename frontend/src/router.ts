import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/sign-in', name: 'sign-in', component: () => import('./screens/sign-in/SignIn.vue') },
    { path: '/', name: 'studies', component: () => import('./screens/studies/Studies.vue') },
    { path: '/join/:secret', name: 'join', component: () => import('./screens/account/Join.vue') },
    { path: '/account', name: 'account', component: () => import('./screens/account/Account.vue') },
    {
      path: '/installation',
      name: 'operator',
      component: () => import('./screens/account/Operator.vue'),
    },
    {
      path: '/studies/:study',
      component: () => import('./screens/StudyFrame.vue'),
      children: [
        { path: '', redirect: { name: 'ask' } },
        {
          path: 'data/bring',
          name: 'bring',
          component: () => import('./screens/data/bring/Bring.vue'),
        },
        {
          path: 'data/:dataset/made',
          name: 'made',
          component: () => import('./screens/data/bring/Made.vue'),
        },
        {
          path: 'data/:dataset?',
          name: 'data',
          component: () => import('./screens/data/Data.vue'),
        },
        {
          path: 'codebook/:dataset?',
          name: 'codebook',
          component: () => import('./screens/codebook/Codebook.vue'),
        },
        {
          path: 'compare',
          name: 'compare',
          component: () => import('./screens/compare/Compare.vue'),
        },
        {
          path: 'report/:report?',
          name: 'report',
          component: () => import('./screens/report/Reports.vue'),
        },
        { path: 'people', name: 'people', component: () => import('./screens/people/People.vue') },
        { path: 'ask/:question?', name: 'ask', component: () => import('./screens/ask/Ask.vue') },
      ],
    },
    {
      path: '/:rest(.*)',
      name: 'nowhere',
      component: () => import('./screens/Nowhere.vue'),
    },
  ],
})
