import { createRouter, createWebHistory } from 'vue-router'

import YardPlace from './places/YardPlace.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'yard', component: YardPlace },
    {
      path: '/models/:id',
      component: () => import('./places/ModelPlaces.vue'),
      props: true,
      children: [
        { path: '', redirect: { name: 'lines' } },
        { path: 'lines', name: 'lines', component: () => import('./places/LinesPlace.vue') },
        { path: 'mixing', name: 'mixing', component: () => import('./places/MixingPlace.vue') },
        { path: 'stage', name: 'stage', component: () => import('./places/StagePlace.vue') },
        { path: 'text', name: 'text', component: () => import('./places/TextPlace.vue'), props: true },
        { path: 'sheet', name: 'sheet', component: () => import('./places/SheetPlace.vue'), props: true },
      ],
    },
    { path: '/:rest(.*)', name: 'nothing', component: () => import('./places/NothingHere.vue') },
  ],
})
