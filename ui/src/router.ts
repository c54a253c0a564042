import { createRouter, createWebHistory } from 'vue-router'

import { places } from './places/places'
import { arrive, begin, comeBack, leave } from './scrolled'

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (to, from, saved) => {
    if (saved) comeBack()
    else if (to.path !== from.path) begin()
  },
  routes: [
    { path: '/', name: 'yard', component: () => import('./places/YardPlace.vue') },
    {
      path: '/shelf/:piece?',
      name: 'shelf',
      component: () => import('./places/ShelfPlace.vue'),
      props: true,
    },
    { path: '/memories', name: 'memories', component: () => import('./places/MemoriesPlace.vue') },
    {
      path: '/models/:id',
      component: () => import('./places/ModelPlaces.vue'),
      props: true,
      children: [
        { path: '', redirect: { name: 'functions' } },
        // as they were called before
        { path: 'lines', redirect: (to) => ({ name: 'functions', params: to.params, query: to.query }) },
        {
          path: 'text',
          redirect: (to) => ({ name: 'log', params: to.params, query: { ...to.query, view: 'text' } }),
        },
        ...places.map(({ name, view }) => ({ path: name, name, component: view, props: true })),
      ],
    },
    { path: '/:rest(.*)', name: 'nothing', component: () => import('./places/NothingHere.vue') },
  ],
})

router.beforeEach(leave)
router.afterEach(arrive)
