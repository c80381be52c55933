import { drive } from '#bench/unattended'
import { composeCase } from '#core/guide/compose'
import { composeGuideDocument } from '#core/guide/document'
import { checkGuide } from '#core/guide/rules'
import { REFERENCE_POLICY, type ViewingCase } from '#core/judge'
import { signalKind } from '#core/signal'
import { drawDisplay, drawHdr, populationBench } from '#tests/population'

/** The guide of a whole case on a drawn display, and what the rules find in it. */
export const guideOf = async (seed: number, viewingCase: ViewingCase) => {
  const drawn = drawDisplay(seed)
  const withHdr = drawHdr(drawn)
  const display = viewingCase === 'hdr-film' ? { ...drawn, sheet: withHdr.sheet } : drawn
  const { port } = populationBench(display, seed, viewingCase === 'hdr-film' ? withHdr : undefined)
  const outcome = await drive(
    port,
    { viewingCase, policy: REFERENCE_POLICY },
    { pause: async () => undefined },
  )
  if (!('verified' in outcome) || !outcome.route) throw new Error(outcome.stopped)
  const { identity, sheet, route, signal } = outcome
  const { facts } = route.context
  const document = composeCase(route, facts, {
    display: {
      maker: identity.maker,
      model: identity.model,
      sizeInch: identity.sizeInch,
      region: 'Europe',
      unit: 'unit 1',
      serial: identity.serial,
      origin: 'drawn',
      firmware: identity.firmware,
    },
    method: {
      meter: `${outcome.meter.maker} ${outcome.meter.model}`,
      patternSource: 'drawn',
      readings: outcome.readings,
      measuredOn: '2026-11-28',
      desk: 'a desk',
    },
    panelKind: identity.panelKind ?? 'lcd-edge-lit',
    policy: outcome.policy,
    sheet,
    baseMode: outcome.baseMode,
    targetLuminance: outcome.targets.luminance,
    skipped: outcome.skipped,
    sizes: [identity.sizeInch],
  })!
  const guide = composeGuideDocument([[document]])!
  const kind = signalKind(signal)
  const findings = checkGuide(guide, [
    {
      document,
      sheet,
      kind,
      verified: route.verify?.state,
      outdated: false,
      signalProblems: [],
      newestFirmware: identity.firmware,
      couldGain: 0,
      unseen: [],
      strayed: [],
    },
  ])
  return { guide, document, findings, sheet, kind, route }
}
