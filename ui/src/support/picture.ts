/** A photograph made small before it is sent: a phone's is ten times what a bar needs. */

const LARGEST = 1600 // pixels either way, as the server keeps it
const SMALL = 400_000 // bytes that are sent as they are

export async function shrunk(file: File): Promise<Blob> {
  if (file.size <= SMALL) return file
  try {
    const picture = await createImageBitmap(file, { imageOrientation: 'from-image' })
    const scale = Math.min(1, LARGEST / Math.max(picture.width, picture.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.round(picture.width * scale)
    canvas.height = Math.round(picture.height * scale)
    canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
    picture.close()
    const small = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', 0.9))
    return small && small.size < file.size ? small : file
  } catch {
    return file // what the browser cannot open the server judges
  }
}
