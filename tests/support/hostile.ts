import { readdirSync, readFileSync, statSync } from 'node:fs'
import { request } from 'node:http'
import { join, relative } from 'node:path'

/** What nobody of good will sends, to every address and every action that there is, read from the file tree and from the build. */
const root = process.cwd()

const filesUnder = (folder: string): string[] =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name)
    return statSync(path).isDirectory() ? filesUnder(path) : [path]
  })

/** Addresses of the application with their parameters in brackets, from its files. */
export const ROUTES = filesUnder(join(root, 'src/app'))
  .filter((file) => /\/(page|route)\.tsx?$/.test(file))
  .map((file) => ({
    kind: file.includes('/route.') ? ('route' as const) : ('page' as const),
    path: `/${relative(join(root, 'src/app'), file)
      .split('/')
      .slice(0, -1)
      .filter((part) => !/^\(.*\)$/.test(part))
      .join('/')}`,
    source: readFileSync(file, 'utf8'),
  }))

export const IDS = [
  '1',
  '0',
  '-1',
  '999999999',
  '99999999999999999999',
  '1.5',
  '1e3',
  'NaN',
  '__proto__',
  "1'--",
  '%00',
  '%E0%A4%A',
  '..%2f..%2fetc',
  '%3Cscript%3E',
  'x'.repeat(3_000),
]
export const filled = (path: string, value: string) => path.replace(/\[[a-z]+\]/g, value)

export interface Sent {
  method?: string
  path: string
  headers?: Record<string, string>
  body?: string | Buffer
}
/** Sends exactly what is said, as no browser would. In: where to. Out: status, or 0 where the server hung up. */
export const sendTo = (
  address: URL,
  { method = 'GET', path, headers = {}, body }: Sent,
): Promise<{ status: number; text: string }> =>
  new Promise((resolve) => {
    const asked = request(
      {
        host: address.hostname,
        port: address.port,
        method,
        path,
        headers: { host: address.host, ...headers },
      },
      (answer) => {
        let text = ''
        answer.setEncoding('utf8')
        answer.on('data', (piece: string) => {
          // An event stream has no end.
          if (text.length < 100_000) text += piece
          if (answer.headers['content-type']?.startsWith('text/event-stream')) asked.destroy()
        })
        const done = () => resolve({ status: answer.statusCode ?? 0, text })
        answer.on('end', done)
        answer.on('close', done)
      },
    )
    asked.on('error', () => resolve({ status: 0, text: '' }))
    asked.setTimeout(30_000, () => asked.destroy())
    asked.end(body)
  })

/** Headers of a page of the application itself. */
export const ownHeaders = (address: URL) => ({ origin: address.origin, 'sec-fetch-site': 'same-origin' })
export const length = (body: string | Buffer) => ({ 'content-length': String(Buffer.byteLength(body)) })
export const deep = `${'['.repeat(20_000)}${']'.repeat(20_000)}`

/** What a body may not be, each with its type. */
export const BODIES: ReadonlyArray<readonly [string, string | Buffer]> = [
  ['application/json', '{'],
  ['application/json', 'null'],
  ['application/json', '[]'],
  ['application/json', '{"type":{}}'],
  ['application/json', deep],
  ['application/json', '{"type":"leave","step":"tone","reason":{"a":1},"revision":[]}'],
  ['application/json', '{"type":"set","control":"__proto__","value":1e999,"revision":1}'],
  ['application/json', Buffer.from([0xff, 0xfe, 0x00])],
  ['multipart/form-data', 'no boundary'],
  ['multipart/form-data; boundary=x', 'garbage'],
  [
    'multipart/form-data; boundary=x',
    '--x\r\ncontent-disposition: form-data; name="file"; filename="a.zip"\r\n\r\nnot a zip',
  ],
  [
    'multipart/form-data; boundary=x',
    '--x\r\ncontent-disposition: form-data; name="file"; filename="a.zip"\r\n\r\nnot a zip\r\n--x--\r\n',
  ],
  [
    'multipart/form-data; boundary=x',
    `--x\r\ncontent-disposition: form-data; name="what"\r\n\r\n${deep}\r\n--x--\r\n`,
  ],
  [
    'multipart/form-data; boundary=x',
    '--x\r\ncontent-disposition: form-data; name="$ACTION_REF_1"\r\n\r\n\r\n--x\r\ncontent-disposition: form-data; name="$ACTION_1:0"\r\n\r\n{"id":"nobody","bound":"$@1"}\r\n--x--\r\n',
  ],
  ['application/x-www-form-urlencoded', 'place=%E0%A4%A&theme=a&theme=b'],
  ['text/plain', '{"type":"pause"}'],
  ['text/html', '<p>'],
  ['', 'nothing said'],
]

/** Ids of the actions of a build. In: its folder. */
export const actionsOf = (dist: string): string[] => {
  const file = join(root, dist, 'server/server-reference-manifest.json')
  return Object.keys((JSON.parse(readFileSync(file, 'utf8')) as { node: Record<string, unknown> }).node)
}

/** Arguments that no action takes. */
export const ARGUMENTS: readonly string[] = [
  '[]',
  '[null]',
  '[{}]',
  '["$F9"]',
  '["$K1","$undefined"]',
  '["$@1"]',
  '[999999999,{},"x"]',
  '["__proto__",{},{"a":1}]',
  '[-1,[],[]]',
  '[1e308,"$NaN","$n999"]',
  `["${'x'.repeat(20_000)}"]`,
  deep,
  '[',
  'null',
  '{"a":1}',
]
