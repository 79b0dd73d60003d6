import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from '@/session/session'
import { useNotices } from '@/app/notices'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'pieces', component: () => import('@/pieces/PiecesView.vue') },
    { path: '/account', name: 'account', component: () => import('@/account/AccountView.vue') },
    { path: '/door', name: 'door', component: () => import('@/session/DoorView.vue') },
    {
      path: '/pieces/:piece(\\d+)/:pattern(\\d+)?', name: 'piece',
      component: () => import('@/piece/PieceView.vue'),
    },
    { path: '/l/:token', name: 'shared', component: () => import('@/shared/SharedView.vue') },
    { path: '/guide/:page?', name: 'guide', component: () => import('@/guide/GuideView.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})

// A part of the application that could not be fetched: say so, and stay where we are.
router.onError(() => useNotices().say('The server is away; try that again when it is back.'))

router.beforeEach(async (to) => {
  if (to.name === 'shared') return true // whoever has a link needs no account
  const session = useSession()
  try {
    await session.load()
  } catch (problem) {
    useNotices().trouble(problem)
  }
  if (to.name !== 'door' && to.name !== 'guide' && !session.username) {
    return { name: 'door', query: to.path === '/' ? {} : { next: to.fullPath } }
  }
  return true
})
