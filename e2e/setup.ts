import { spawn } from 'node:child_process'
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** Starts the program on a folder of its own; the session of its one-time link and its address go to the tests. */
export default async function setup() {
  const folder = mkdtempSync(join(tmpdir(), 'lark-e2e-'))
  chmodSync(folder, 0o755) // the user postgres must get in
  const program = spawn(fileURLToPath(new URL('../bin/lark', import.meta.url)), ['start', '--data', join(folder, 'data'), '--port', '0'], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, LARK_LOG: 'warnings' },
  })
  const line = await new Promise<string>((said, failed) => {
    program.stdout.once('data', (text) => said(String(text)))
    program.once('exit', (code) => failed(new Error(`the program ended with ${code}`)))
  })
  const link = line.match(/http:\S+/)![0]
  const { origin, hostname } = new URL(link)
  const answer = await fetch(link, { method: 'POST', redirect: 'manual' })
  const [name, value] = answer.headers.getSetCookie()[0].split(';')[0].split('=')
  process.env.LARK_ADDRESS = origin
  process.env.LARK_SESSION = JSON.stringify({
    cookies: [{ name, value, domain: hostname, path: '/', expires: -1, httpOnly: true, secure: false, sameSite: 'Lax' }],
    origins: [],
  })
  return async () => {
    const ended = new Promise((done) => program.once('exit', done))
    program.kill('SIGINT')
    await ended
    rmSync(folder, { recursive: true, force: true })
  }
}
