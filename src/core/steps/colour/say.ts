import { saying } from '../saying'

/** Colour stands as it does for want of controls; `account`: the sentence that everything else says too. */
export const colourLeft = saying('colour-left', ({ account }: { account: string }) => account)
