// PostgreSQL servers of Debian's packages on this machine: made in a folder, started on loopback, stopped.
import { execFile, execFileSync, spawn } from 'node:child_process'
import { chownSync, cpSync, existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { promisify } from 'node:util'

const run = promisify(execFile)
const HOME = '/usr/lib/postgresql'

/** Where the programs of the newest version are; null: there are none. */
export function postgresPrograms() {
  if (!existsSync(HOME)) return null
  const versions = readdirSync(HOME)
    .filter(version => existsSync(join(HOME, version, 'bin', 'initdb')))
    .sort((a, b) => Number(b) - Number(a))
  return versions.length > 0 ? join(HOME, versions[0], 'bin') : null
}

/** Installs them where whoever asks may; throws where they may not. */
export function installPostgres() {
  if (postgresPrograms()) return
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  execFileSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env })
  execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'postgresql'], {
    stdio: 'inherit',
    env,
  })
}

/** The programs refuse to run as root: then they run as the user whom the packages make. */
function asUser() {
  if (process.getuid?.() !== 0) return {}
  const id = flag => Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8' }))
  return { uid: id('-u'), gid: id('-g') }
}

function programs() {
  const found = postgresPrograms()
  if (!found) throw new Error('PostgreSQL is not installed: apt-get install postgresql')
  return found
}

/**
 * Makes an empty database in a folder: UTF-8, no locale of the machine's, no passwords, since it is only heard on
 * loopback.
 * @param {string} folder
 */
export async function makeServer(folder) {
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  const user = asUser()
  if (user.uid !== undefined) chownSync(folder, user.uid, user.gid)
  await run(
    join(programs(), 'initdb'),
    ['-D', folder, '-U', 'meadow', '-A', 'trust', '-E', 'UTF8', '--locale=C.UTF-8', '--no-sync'],
    { ...user, cwd: '/' },
  )
}

/**
 * A copy of a server that is not running.
 * @param {string} from
 * @param {string} to
 */
export async function copyServer(from, to) {
  rmSync(to, { recursive: true, force: true })
  cpSync(from, to, { recursive: true })
  const { uid, gid } = asUser()
  if (uid !== undefined) await run('chown', ['-R', `${uid}:${gid}`, to])
}

/** @returns {Promise<number>} a port that nobody listens at */
export const freePort = () =>
  new Promise((resolve, reject) => {
    const probe = createServer()
    probe.once('error', reject)
    probe.listen(0, '127.0.0.1', () => {
      const address = probe.address()
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0))
    })
  })

/**
 * Starts the server of a folder, and answers once it can be asked.
 * @param {string} folder
 * @param {number} port
 * @param {Readonly<Record<string, string>>} [settings]
 */
export async function startServer(folder, port, settings = {}) {
  const given = {
    port: String(port),
    listen_addresses: '127.0.0.1',
    unix_socket_directories: '',
    // What is lost with the machine's power is made again.
    fsync: 'off',
    synchronous_commit: 'off',
    full_page_writes: 'off',
    ...settings,
  }
  const args = Object.entries(given).flatMap(([name, value]) => ['-c', `${name}=${value}`])
  const child = spawn(join(programs(), 'postgres'), ['-D', folder, ...args], {
    ...asUser(),
    cwd: '/',
    stdio: ['ignore', 'ignore', 'pipe'],
  })
  let said = ''
  child.stderr.on('data', data => (said = (said + data).slice(-4000)))
  const ended = new Promise(resolve => child.once('exit', resolve))
  const ready = join(programs(), 'pg_isready')
  for (let tries = 0; ; tries++) {
    const isReady = await run(ready, ['-h', '127.0.0.1', '-p', String(port), '-q']).then(
      () => true,
      () => false,
    )
    if (isReady) break
    if (child.exitCode !== null || tries > 300) throw new Error(`PostgreSQL does not start: ${said}`)
    await new Promise(resolve => setTimeout(resolve, 100))
  }
  return {
    port,
    url: `postgres://meadow@127.0.0.1:${port}/postgres`,
    /** Ends it at once: whoever asks it something is cut off. */
    async stop() {
      child.kill('SIGQUIT')
      await ended
    },
  }
}
