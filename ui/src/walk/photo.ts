/** A photograph as it is kept: small enough for a record, whatever the camera took. */

const most = 1280 // pixels to a side

/** Draws a photograph anew, no larger than it has to be. What the browser cannot draw is sent as it is. */
export async function smaller(file: Blob): Promise<Blob> {
  try {
    const picture = await createImageBitmap(file)
    const by = Math.min(1, most / Math.max(picture.width, picture.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(1, Math.round(picture.width * by))
    canvas.height = Math.max(1, Math.round(picture.height * by))
    canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
    return await new Promise((done) => canvas.toBlob((made) => done(made ?? file), 'image/jpeg', 0.8))
  } catch {
    return file
  }
}
