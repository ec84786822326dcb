import { Refusal, type Schemas } from '../api/client'

// upload sends one file in a form and tells how far it is, from 0 to 1.
export function upload<T>(path: string, fields: Record<string, string>, file: File, onProgress: (part: number) => void): Promise<T> {
  return new Promise((resolve, reject) => {
    const form = new FormData()
    for (const [key, value] of Object.entries(fields)) form.append(key, value)
    form.append('file', file)
    const request = new XMLHttpRequest() // fetch does not tell how much is sent
    request.open('POST', path)
    request.responseType = 'json'
    request.upload.onprogress = (e) => e.lengthComputable && onProgress(e.loaded / e.total)
    request.onload = () => {
      if (request.status === 201) resolve(request.response as T)
      else reject(new Refusal(request.status, (request.response as Schemas['Problem'] | null)?.detail ?? 'Uvent does not answer.'))
    }
    request.onerror = () => reject(new Refusal(0, 'The line broke while the file was sent. Try it again.'))
    request.send(form)
  })
}
