import { execFileSync, spawn } from 'node:child_process'
import { chmodSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The stand-in for an organisation that people sign in through: it lets in the one person that it knows. */
async function startProvider(folder: string) {
  const file = join(folder, 'claims.json')
  writeFileSync(
    file,
    JSON.stringify({ sub: '7', email: 'carys@thornwick.example', email_verified: true, name: 'Carys Penn', groups: ['hive-analysts'] }),
  )
  const provider = spawn(fileURLToPath(new URL('../bin/provider', import.meta.url)), [file], { stdio: ['ignore', 'pipe', 'inherit'] })
  const issuer = await new Promise<string>((said) => provider.stdout.once('data', (text) => said(String(text).trim())))
  return {
    stop: () => provider.kill(),
    settings: {
      LARK_OIDC_ISSUER: issuer,
      LARK_OIDC_CLIENT: 'lark',
      LARK_OIDC_SPACE: 'Thornwick apiaries',
      LARK_OIDC_ROLE: 'reader',
      LARK_OIDC_GROUPS: 'hive-analysts=maker',
      LARK_OIDC_DOMAINS: 'thornwick.example',
    },
  }
}

/** A table of 90,000 rows over three servers, in which the trend turns round within districts. */
function spread(owner: string, valley: string) {
  const columns = '(shard int, id bigint, district text, distance_m float8, load_mg float8, hive text)'
  const run = (at: string, statements: string) => execFileSync('psql', [at, '-qv', 'ON_ERROR_STOP=1', '-c', statements])
  run(valley, `create extension postgres_fdw; create table door_counts ${columns} partition by list (shard)`)
  for (const shard of [0, 1, 2]) {
    const name = `valley_${shard}`
    execFileSync('psql', [owner, '-qc', `create database ${name}`])
    const at = new URL(owner)
    at.pathname = `/${name}`
    run(
      at.href,
      `create table door_counts ${columns}; insert into door_counts select ${shard}, i * 3 + ${shard}, (array['Low Fen', 'Brindle', 'Tarn'])[1 + i % 3],
         case when i % 1000 > 0 then 10 ^ u end, 40 - 12 * (i % 3) + 5 * u + 3 * random(), 'hive ' || i % 97
         from (select i, 2 + 0.5 * (i % 3) + 0.8 * random() as u from generate_series(1, 30000) i) each; analyze door_counts`,
    )
    run(
      valley,
      `create server s${shard} foreign data wrapper postgres_fdw options (host '${at.hostname}', port '${at.port}', dbname '${name}', async_capable 'true');
       create user mapping for public server s${shard} options (user '${at.username}', password '${at.password}');
       create foreign table door_counts_${shard} partition of door_counts for values in (${shard}) server s${shard} options (table_name 'door_counts');
       analyze door_counts_${shard}; grant select on door_counts, door_counts_${shard} to reader`,
    )
  }
}

/** A database of somebody else's, with a table of flights that a reader may see. */
function startElsewhere(folder: string) {
  const testdb = fileURLToPath(new URL('../bin/testdb', import.meta.url))
  const at = join(folder, 'elsewhere')
  execFileSync(testdb, ['start', at])
  const owner = String(execFileSync(testdb, ['owner', at])).trim()
  execFileSync('psql', [owner, '-qc', 'create database valley'])
  const valley = new URL(owner)
  valley.pathname = '/valley'
  execFileSync('psql', [
    valley.href,
    '-qv',
    'ON_ERROR_STOP=1',
    '-c',
    `create table flights as select i as id, (random() * 4000)::int as distance_m, 60 - random() * 30 as load_mg,
       (array['Low Fen', 'Brindle', 'Tarn'])[1 + i % 3] as district from generate_series(1, 60000) i;
     comment on table flights is 'Flights of foragers, as they came in at the door';
     create table wages (keeper text); analyze;
     create role reader login password 'two dry summers'; grant select on flights to reader`,
  ])
  spread(owner, valley.href)
  const reader = new URL(valley)
  reader.username = 'reader'
  reader.password = 'two dry summers'
  const file = join(folder, 'sources.json')
  const tables = [{ name: 'public.flights', key: 'id' }, { name: 'public.wages' }, { name: 'public.door_counts', key: 'id' }]
  writeFileSync(file, JSON.stringify([{ name: 'valley', address: reader.href, tables }]))
  process.env.LARK_E2E_ELSEWHERE = valley.href
  return { file, stop: () => execFileSync(testdb, ['stop', at]) }
}

/** A port that nobody listens on. */
const freePort = () =>
  new Promise<number>((found) => {
    const trial = createServer().listen(0, '127.0.0.1', () => {
      const { port } = trial.address() as AddressInfo
      trial.close(() => found(port))
    })
  })

/** Starts the program on a folder of its own; the session of its one-time link and its address go to the tests. */
export default async function setup() {
  const folder = mkdtempSync(join(tmpdir(), 'lark-e2e-'))
  chmodSync(folder, 0o755) // the user postgres must get in
  const provider = await startProvider(folder)
  const elsewhere = startElsewhere(folder)
  const lark = fileURLToPath(new URL('../bin/lark', import.meta.url))
  const data = join(folder, 'data')
  const harvest = join(folder, 'harvest') // from which files come again
  mkdirSync(harvest)
  process.env.LARK_E2E_FOLDER = harvest
  const far = new URL(`http://127.0.0.1:${await freePort()}`) // where a test may answer, as the server that files come from
  process.env.LARK_E2E_ORIGIN = far.origin
  const program = spawn(lark, ['start', '--data', data, '--port', '0'], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      LARK_LOG: 'warnings',
      LARK_FOLDERS: `harvest=${harvest}`,
      LARK_ORIGINS: `${far.origin}/open`,
      LARK_ORIGIN_HOSTS: far.host,
      LARK_SOURCES: elsewhere.file,
      ...provider.settings,
    },
  })
  const line = await new Promise<string>((said, failed) => {
    program.stdout.once('data', (text) => said(String(text)))
    program.once('exit', (code) => failed(new Error(`the program ended with ${code}`)))
  })
  const link = line.match(/http:\S+/)![0]
  const { origin, hostname } = new URL(link)
  const session = (answer: Response) => {
    const [name, value] = answer.headers.getSetCookie()[0].split(';')[0].split('=')
    const cookie = { name, value, domain: hostname, path: '/', expires: -1, httpOnly: true, secure: false, sameSite: 'Lax' }
    return JSON.stringify({ cookies: [cookie], origins: [] })
  }
  process.env.LARK_ADDRESS = origin
  process.env.LARK_SESSION = session(await fetch(link, { method: 'POST', redirect: 'manual' }))
  // Somebody who owns spaces of their own, so that the demo's owner stays where they are.
  const other = { email: 'gwen@thornwick.example', password: 'two grey gateposts' }
  execFileSync(lark, ['person', '--data', data, '--email', other.email, '--name', 'Gwen Oake', '--new-space', 'Oake hives'], {
    env: { ...process.env, LARK_PASSWORD: other.password },
    stdio: 'pipe',
  })
  process.env.LARK_OTHER_SESSION = session(
    await fetch(`${origin}/api/sign-in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(other),
    }),
  )
  return async () => {
    const ended = new Promise((done) => program.once('exit', done))
    program.kill('SIGINT')
    await ended
    provider.stop()
    elsewhere.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}
