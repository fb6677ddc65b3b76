/** Passkeys, by the browser's own calls (Web Authentication, level 3: options and answers as JSON). */
import { api, Refusal } from './client'

interface WithJson {
  parseCreationOptionsFromJSON(options: unknown): PublicKeyCredentialCreationOptions
  parseRequestOptionsFromJSON(options: unknown): PublicKeyCredentialRequestOptions
}
const calls = () => (window as { PublicKeyCredential?: unknown }).PublicKeyCredential as WithJson | undefined

/** Whether this browser can, here: it needs a secure address. */
export const passkeysWork = (): boolean => Boolean(calls()?.parseRequestOptionsFromJSON) && isSecureContext

/** What a browser's options stand in: {publicKey: …}. */
const inner = (options: unknown) => (options as { publicKey: unknown }).publicKey
const written = (credential: Credential | null) => (credential as unknown as { toJSON(): unknown }).toJSON()

const asRefusal = (fault: unknown): Refusal =>
  fault instanceof Refusal ? fault : new Refusal(0, 'the passkey was not used', 'try again, or choose another way')

/** Makes a passkey on this device. */
export async function makePasskey(password: string): Promise<void> {
  try {
    const { token, options } = await api.beginPasskey(password)
    const made = await navigator.credentials.create({ publicKey: calls()!.parseCreationOptionsFromJSON(inner(options)) })
    await api.addPasskey(token, written(made))
  } catch (fault) {
    throw asRefusal(fault)
  }
}

/** Signs in with a passkey of this device. */
export async function signInByPasskey(): Promise<void> {
  try {
    const { token, options } = await api.beginPasskeySignIn()
    const signed = await navigator.credentials.get({ publicKey: calls()!.parseRequestOptionsFromJSON(inner(options)) })
    await api.passkeySignIn(token, written(signed))
  } catch (fault) {
    throw asRefusal(fault)
  }
}
