import { isNavigationFailure, NavigationFailureType, type Router } from 'vue-router'

let isUnderWay = false

/** Whether another page is being fetched while the one that is left still stands. */
export const isLeaving = () => isUnderWay

/**
 * What the page that is left writes into the address meanwhile, as the id of what was saved last, does not keep
 * anybody from the page they asked for.
 */
export function keepOnTheWay(router: Router): void {
  router.beforeEach((to, from) => {
    isUnderWay = to.name !== from.name
  })
  router.afterEach((_to, _from, failure) => {
    // what was given up for another page has not arrived
    if (!isNavigationFailure(failure, NavigationFailureType.cancelled)) isUnderWay = false
  })
  router.onError(() => (isUnderWay = false))
  const replace = router.replace.bind(router)
  router.replace = (to) => (isUnderWay ? Promise.resolve() : replace(to))
}
