/** Let the browser keep an answer as a file, under the name that the server gave it. */
export function keepFile(content: Blob, response: Response) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download =
    /filename="([^"]+)"/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'export'
  link.click()
  URL.revokeObjectURL(link.href)
}
