import { useDropZone } from '@vueuse/core'
import { useToast } from 'primevue/usetoast'
import { readonly, ref } from 'vue'
import { useRouter } from 'vue-router'

import { problemsIn } from '@/kit/state/problems'
import { wordsFor } from '@/words'

import { sendFile } from './intake'

const isPicture = (file: File) => file.type.startsWith('image/')

/** Take a list in and open it; a picture is no list, and belongs to whatever page is open. */
export function useTakingIn() {
  const router = useRouter()
  const toast = useToast()
  const isTaking = ref(false)
  async function takeIn(files: readonly File[] | null) {
    const file = files?.find((one) => !isPicture(one))
    if (!file || isTaking.value) return
    isTaking.value = true
    try {
      const { id } = await sendFile(file)
      await router.push({ name: 'intake', params: { id } })
    } catch (error) {
      const told = problemsIn(error).map(wordsFor).join(' ')
      toast.add({ severity: 'error', summary: file.name, detail: told, life: 12_000 })
    } finally {
      isTaking.value = false
    }
  }
  return { takeIn, isTaking: readonly(isTaking) }
}

/** A file that is dropped anywhere becomes an intake, unless what is open takes it. */
export function useDropAnywhere(mayTake: () => boolean, taken: (files: File[] | null) => void) {
  const zone = ref(document.documentElement)
  const { isOverDropZone } = useDropZone(zone, {
    onDrop: (files) => {
      if (mayTake()) taken(files)
    },
    preventDefaultForUnhandled: true,
  })
  return { isOver: readonly(isOverDropZone) }
}
