import { problemsIn } from '@/kit/state/problems'
import { useQuery } from '@tanstack/vue-query'
import { computed, type MaybeRefOrGetter, ref, shallowRef, toValue } from 'vue'

import { client, type Problem, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

export type Image = components['schemas']['ImageShape']
export type Crop = components['schemas']['CropShape']
/** An image as the server knows it; asked for only when there is one. */
export function useImage(token: MaybeRefOrGetter<string | null | undefined>) {
  return useQuery({
    queryKey: computed(() => keyOf('images', toValue(token))),
    queryFn: ({ signal }) =>
      unwrap(
        client.GET('/api/images/{token}/', { params: { path: { token: toValue(token) ?? '' } }, signal }),
      ),
    enabled: computed(() => !!toValue(token)),
    staleTime: Infinity,
  })
}

/** Send pictures and crops to the server: busy while it lasts, and what it refused. */
export function useTaking(taken: (image: Image) => void) {
  const isBusy = ref(false)
  const problems = shallowRef<Problem[]>([])

  async function guard(asked: () => Promise<Image>): Promise<boolean> {
    isBusy.value = true
    problems.value = []
    try {
      taken(await asked())
      return true
    } catch (error) {
      problems.value = problemsIn(error)
      return false
    } finally {
      isBusy.value = false
    }
  }
  const send = (file: Blob) =>
    guard(() => {
      const form = new FormData()
      form.append('image', file, 'image')
      return unwrap(
        client.POST('/api/images/', {
          // the client's types know a file as text; what goes out is the form itself
          body: { image: '' },
          bodySerializer: () => form,
        }),
      )
    })
  const crop = (token: string, part: Crop) =>
    guard(() => unwrap(client.POST('/api/images/{token}/crop/', { params: { path: { token } }, body: part })))
  return { send, crop, isBusy, problems }
}
