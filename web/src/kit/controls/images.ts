export type ImageSize = 'list' | 'page' | 'print' | 'original'

export const imageUrl = (token: string, size: ImageSize) => `/api/images/${token}/${size}.jpg`
