import { Refusal, type Schemas } from '../../api/client'

type Photo = Schemas['Photo']

// uploadPhoto sends one file and tells how far it is, from 0 to 1.
export function uploadPhoto(query: string, group: string, file: File, onProgress: (part: number) => void): Promise<Photo> {
  return new Promise((resolve, reject) => {
    const form = new FormData()
    form.append('group', group)
    form.append('file', file)
    const request = new XMLHttpRequest() // fetch does not tell how much is sent
    request.open('POST', '/api/photos?' + query)
    request.responseType = 'json'
    request.upload.onprogress = (e) => e.lengthComputable && onProgress(e.loaded / e.total)
    request.onload = () => {
      const answer = request.response as Photo & Schemas['Problem']
      if (request.status === 201) resolve(answer)
      else reject(new Refusal(request.status, answer?.detail ?? 'Uvent does not answer.'))
    }
    request.onerror = () => reject(new Refusal(0, 'The line broke while the photo was sent. Try it again.'))
    request.send(form)
  })
}
