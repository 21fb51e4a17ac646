import {
  type InvalidateOptions,
  type InvalidateQueryFilters,
  QueryClient,
  type QueryKey,
} from '@tanstack/vue-query'

/**
 * What is told as changed is asked for anew, also where the very first answer is still on its way: it may
 * tell of before the change. (The library keeps waiting for a first answer.)
 */
export class FreshQueries extends QueryClient {
  override async invalidateQueries<Key extends QueryKey = QueryKey>(
    filters: InvalidateQueryFilters<Key> = {},
    options: InvalidateOptions = {},
  ) {
    const { queryKey, exact } = filters
    const hasNoAnswer = ({ state }: { state: { data: unknown } }) => state.data === undefined
    await this.cancelQueries({ queryKey, exact, predicate: hasNoAnswer })
    await super.invalidateQueries(filters, options)
  }
}
