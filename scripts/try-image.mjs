/*
 * npm run try-image: where there is no Docker, the steps of the Dockerfile are done in clean folders; what comes out is
 * started without a network (where that can be cut off here), asked, told to stop, and started again.
 */
import { spawn, spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = join(dirname(fileURLToPath(import.meta.url)), '..')
const work = mkdtempSync(join(tmpdir(), 'gharry-image-'))
const ignored = readFileSync(join(root, '.dockerignore'), 'utf8').split('\n').filter(Boolean)
const fail = (sentence) => {
  console.error(sentence)
  process.exit(1)
}
function sh(command, cwd, env = process.env) {
  console.log(`  ${command}`)
  if (spawnSync('sh', ['-c', command], { cwd, env, stdio: ['ignore', 'ignore', 'inherit'] }).status !== 0)
    fail(`This step failed: ${command}`)
}

// What Git has is what a fresh clone would send to the builder.
const context = join(work, 'context')
mkdirSync(context)
sh(`git archive HEAD | tar -x -C ${context}`, root)
for (const name of ignored) rmSync(join(context, name), { recursive: true, force: true })

const stages = new Map()
let [stage, folder, env, command] = ['', '', {}, null]
const place = (path) => join(folder, path.startsWith('/gharry') ? path.slice('/gharry'.length) : path)
const inStage = (text) => text.replaceAll('/data', join(folder, 'data')).replace(/ && chown \S+ \S+/, '')
for (const line of readFileSync(join(root, 'Dockerfile'), 'utf8').split('\n')) {
  const [, word, rest] = /^([A-Z]+) (.*)$/.exec(line) ?? []
  if (!word) continue
  console.log(line)
  if (word === 'FROM') {
    stage = / AS (\w+)/.exec(rest)?.[1] ?? 'image'
    folder = join(work, stage)
    mkdirSync(folder)
    stages.set(stage, folder)
    env = {}
  } else if (word === 'ENV') for (const pair of rest.split(' ')) env[pair.split('=')[0]] = pair.split('=')[1]
  else if (word === 'RUN') sh(inStage(rest), folder)
  else if (word === 'CMD') command = JSON.parse(rest)
  else if (word === 'COPY') {
    const from = /^--from=(\w+) /.exec(rest)
    const names = rest.replace(/^--from=\w+ /, '').split(' ')
    const to = place(names.pop())
    for (const name of names) {
      const source = from ? join(stages.get(from[1]), name.slice('/gharry/'.length)) : join(context, name)
      const whole = name === '.' || (!basename(name).includes('.') && from) || basename(name).startsWith('.')
      // Permissions and links stay as they are.
      cpSync(source, whole ? to : join(to, basename(name)), { recursive: true, verbatimSymlinks: true })
    }
  }
}
console.log(`The image: ${readdirSync(folder).join(' ')}`)
if (existsSync(join(folder, 'node_modules/esbuild')) || existsSync(join(folder, 'node_modules/typescript')))
  console.log('(a compiler is in it, as a package asks for it; it is not used)')

// Without a network: nothing can be fetched when it runs.
const alone = spawnSync('unshare', ['-n', 'true']).status === 0
const settings = {
  ...env,
  GHARRY_DATA: join(folder, 'data'),
  GHARRY_PORT: '4790',
  GHARRY_URL: 'http://127.0.0.1:4790',
  PATH: process.env.PATH,
  HOME: folder,
}
async function runOnce(check) {
  const inner = `${alone ? 'ip link set lo up; ' : ''}exec ${command.join(' ')}`
  const child = spawn(...(alone ? ['unshare', ['-n', 'sh', '-c', inner]] : ['sh', ['-c', inner]]), {
    cwd: folder,
    env: settings,
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let said = ''
  child.stdout.on('data', (data) => (said += data))
  child.stderr.on('data', (data) => (said += data))
  const ask = (path) =>
    alone
      ? spawnSync(
          'nsenter',
          [
            '-t',
            String(child.pid),
            '-n',
            'node',
            '-e',
            `fetch('http://127.0.0.1:4790${path}').then(async (a) => console.log(a.status, (await a.text()).slice(0, 400)))`,
          ],
          { encoding: 'utf8' },
        ).stdout
      : spawnSync(
          'node',
          [
            '-e',
            `fetch('http://127.0.0.1:4790${path}').then(async (a) => console.log(a.status, (await a.text()).slice(0, 400)))`,
          ],
          { encoding: 'utf8' },
        ).stdout
  for (let i = 0; i < 120 && !said.includes('Gharry is up'); i++)
    await new Promise((resolve) => setTimeout(resolve, 500))
  if (!said.includes('Gharry is up')) fail(`It did not come up.\n${said}`)
  await check(ask, () => said)
  const gone = new Promise((resolve) => child.once('exit', resolve))
  child.kill('SIGTERM')
  await gone
  return said
}
const first = await runOnce(async (ask, said) => {
  if (!/once: http/.test(said())) fail('It did not print the link of the first owner.')
  for (let i = 0; i < 40 && !/"worker":true/.test(ask('/api/health')); i++)
    await new Promise((resolve) => setTimeout(resolve, 500))
  const health = ask('/api/health')
  if (!/^200 .*"worker":true/.test(health)) fail(`/api/health says: ${health}`)
  if (!/^200 .*<html/s.test(ask('/sign-in'))) fail('The page to sign in is not drawn.')
  for (let i = 0; i < 40 && !existsSync(join(folder, 'data/backups')); i++)
    await new Promise((resolve) => setTimeout(resolve, 500))
  if (!existsSync(join(folder, 'data/backups'))) fail('No backup was made.')
})
if (!/worker stopped/.test(first) || !/keeper of the backups stopped/.test(first))
  fail(`It did not end in good order.\n${first}`)
await runOnce(async (ask) => {
  if (!/^200/.test(ask('/api/health'))) fail('It did not come up again on its own data.')
})
rmSync(work, { recursive: true, force: true })
console.log(
  `The steps of the Dockerfile work${alone ? ', and what comes out needs no network' : ' (the network could not be cut off here)'}.`,
)
