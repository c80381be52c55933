import fc from 'fast-check'

/** Properties are tried with the same numbers each time, so that a verdict can be repeated; PROPERTY_SEED tries others. */
fc.configureGlobal({ seed: Number(process.env.PROPERTY_SEED ?? 20261124) })
