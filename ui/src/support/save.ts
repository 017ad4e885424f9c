/** Files that are saved on this device: what the server refuses is told here, and not in a file nobody reads. */
import { fetched } from '../api/client'

/** Save what is in hand as a file of this name. */
export function saveAs(body: Blob, name: string) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(body)
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}

/** Fetch a file and save it under the name it comes with; Refused where there is none. */
export async function saveFrom(path: string) {
  const response = await fetched(path)
  const name = /filename="([^"]+)"/.exec(response.headers.get('Content-Disposition') ?? '')
  saveAs(await response.blob(), name?.[1] ?? 'file')
}
