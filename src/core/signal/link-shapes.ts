import { z } from 'zod'
import { BitDepth, Chroma, Range } from './format'
import { LinkKey, type LinkLoad, type PixelFormat } from './link'

const name = z.string().trim().min(1).max(80)
const key = z.string().regex(/^[a-z][a-z0-9-]{0,59}$/)
const pixels = z.number().int().min(16).max(16384)
const hertz = z.number().min(1).max(1000)

/** A size of picture with the rates in which it is sent or taken. */
const Sized = z.object({ width: pixels, height: pixels, rates: z.array(hertz).min(1).max(40) })
const Variable = z
  .object({ slowest: hertz, fastest: hertz })
  .refine((v) => v.slowest < v.fastest, 'The slowest rate must be below the fastest.')

/** A value of the display's menu that something hangs on. */
const MenuValue = z.object({ control: key, value: key })

/** A socket of a display. */
export const Socket = z.object({
  key,
  /** As it is written on the display. */
  label: name,
  /** The fastest link that it does. */
  link: LinkKey,
  /** It takes compressed transport. */
  compressed: z.boolean().optional(),
  /** What unlocks its full rate, and the link that it does before. */
  unlock: MenuValue.extend({ before: LinkKey }).optional(),
  /** What makes it show every pixel's colour: before, 4:4:4 is shown as 4:2:2. */
  fullChroma: MenuValue.optional(),
  /** It is also the sound system's. */
  soundSystem: z.boolean().optional(),
  /** Sockets of which only one does its full rate at a time. */
  sharesWith: z.array(key).max(10).optional(),
  /** One sentence that a reader should know. */
  note: z.string().trim().max(300).optional(),
})
export type Socket = z.infer<typeof Socket>

/** What a display takes, over which sockets. */
export const DisplayInputs = z
  .object({
    sockets: z.array(Socket).min(1).max(12),
    formats: z.array(Sized).min(1).max(30),
    bitDepths: z.array(BitDepth).min(1),
    chroma: z.array(Chroma).min(1),
    variableRefresh: Variable.optional(),
  })
  .superRefine(({ sockets }, context) => {
    const keys = sockets.map((s) => s.key)
    sockets.forEach((socket, i) => {
      if (keys.indexOf(socket.key) !== i)
        context.addIssue({
          code: 'custom',
          path: ['sockets', i, 'key'],
          message: 'Another socket has this key.',
        })
      for (const other of socket.sharesWith ?? [])
        if (!keys.includes(other))
          context.addIssue({
            code: 'custom',
            path: ['sockets', i, 'sharesWith'],
            message: `There is no socket ${other}.`,
          })
    })
  })
export type DisplayInputs = z.infer<typeof DisplayInputs>

export const SourceKind = z.enum(['player', 'console', 'computer'])
export type SourceKind = z.infer<typeof SourceKind>

/** A device that sends pictures. */
export const SourceDevice = z.object({
  name,
  kind: SourceKind,
  link: LinkKey,
  compressed: z.boolean().optional(),
  formats: z.array(Sized).min(1).max(30),
  bitDepths: z.array(BitDepth).min(1),
  chroma: z.array(Chroma).min(1),
  ranges: z.array(Range).min(1),
  variableRefresh: Variable.optional(),
  /** What it changes by itself from a rate on, whatever was chosen. */
  falls: z
    .array(
      z.object({
        fromRate: hertz,
        bitDepth: BitDepth.optional(),
        chroma: Chroma.optional(),
        range: Range.optional(),
      }),
    )
    .max(10)
    .optional(),
})
export type SourceDevice = z.infer<typeof SourceDevice>

/** Everything between source and display. */
export interface SignalPath {
  readonly source: SourceDevice
  /** What the cable is rated for. */
  readonly cable: LinkKey
  readonly inputs: DisplayInputs
  readonly socket: Socket
  /** Its full rate is unlocked, where it has to be. */
  readonly unlocked: boolean
  /** It is set to show every pixel's colour, where it has to be. */
  readonly labelled: boolean
}

/** What somebody wants to see. */
export interface Wish extends PixelFormat {
  readonly width: number
  readonly height: number
  readonly rate: number
  readonly range: Range
  readonly variableRefresh: boolean
}

/** What comes out at the display. */
export interface Arrival extends Wish {
  readonly link: LinkKey
  /** Chroma as it is shown: less than what arrives where the socket has no label for it. */
  readonly shownChroma: Chroma
}

export interface LinkVerdict {
  readonly arrives?: Arrival
  /** Why not, or what differs from the wish, one sentence each. */
  readonly troubles: readonly string[]
  readonly load: LinkLoad
  /** The link that the reckoning is for: the slowest that fits, or the fastest there is. */
  readonly link?: LinkKey
}
