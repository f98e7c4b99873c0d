/** A Data Package that lies open in a folder, as the one zip the server takes. */
import { zipSync } from 'fflate'

export async function zipped(files: File[]): Promise<File> {
  const contents: Record<string, Uint8Array> = {}
  for (const file of files)
    contents[file.webkitRelativePath || file.name] = new Uint8Array(await file.arrayBuffer())
  const folder = files[0]?.webkitRelativePath.split('/')[0] || 'package'
  const archive = zipSync(contents, { level: 1 })
  return new File([archive.slice()], `${folder}.zip`, { type: 'application/zip' })
}
