import { api, told } from '../api/client'

// passkeysHere tells whether this browser knows passkeys at all.
export const passkeysHere = typeof PublicKeyCredential === 'function' && 'parseRequestOptionsFromJSON' in PublicKeyCredential

type Asked = { publicKey: unknown }

const broken = 'No passkey came: the browser was told no, or it took too long.'

async function answerOf(asked: Promise<Credential | null>): Promise<Record<string, never>> {
  let made: Credential | null
  try {
    made = await asked
  } catch {
    throw new Error(broken)
  }
  if (!(made instanceof PublicKeyCredential)) throw new Error(broken)
  return made.toJSON() as Record<string, never>
}

// makePasskey has the browser make a passkey, and keeps it.
export async function makePasskey(name: string, confirmed: { password: string; code?: string }) {
  const asked = (await told(api.POST('/api/passkeys/challenge', { body: confirmed }))) as Asked
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(asked.publicKey as PublicKeyCredentialCreationOptionsJSON)
  const credential = await answerOf(navigator.credentials.create({ publicKey }))
  return told(api.POST('/api/passkeys', { body: { name, credential } }))
}

// signInByPasskey has the browser sign in with a passkey of whoever sits before it.
export async function signInByPasskey() {
  const asked = (await told(api.POST('/api/session/passkey/challenge'))) as Asked
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(asked.publicKey as PublicKeyCredentialRequestOptionsJSON)
  const credential = await answerOf(navigator.credentials.get({ publicKey }))
  return told(api.POST('/api/session/passkey', { body: { credential } }))
}
