/** What a control of a role is, in one place: a new role is one entry. */
export interface RoleEntry {
  /** The trade's own term, whatever the maker's label says. */
  readonly term: string
  /** What it does, in words a reader understands. */
  readonly means: string
  /**
   * Labels that say what they mean. The roles' words are looked for in turn, the lowest first: what is special comes before what is general, and below
   * `NAMED_WHOLE` before labels that mislead.
   */
  readonly words?: { readonly turn: number; readonly pattern: RegExp }
  /** What has to be told of such a control besides. */
  readonly told?: ReadonlyArray<'channel' | 'colour' | 'level'>
  /** It may be for one colour. */
  readonly ofColour?: true
  /**
   * How it stands while it is measured, as it is set where nothing is said. `automatic`: at neutral, since it changes the picture by itself. `neutral`: at
   * neutral, since it makes light and shadow depend on the rest of the picture, or dims every patch.
   */
  readonly measuring?: 'automatic' | 'neutral'
  /** While the display is watched: at neutral, unless a person or the policy wants it otherwise; or as it comes, since it protects the panel. */
  readonly watching?: 'neutral' | 'as-it-comes'
  /** The value at which it does nothing is told by its values. */
  readonly hasNeutral?: true
  /** Key of the step that deals with it. */
  readonly step: string
  /** A meter tells its value. */
  readonly metered?: true
  /** What copying a value to another unit is worth, where copying was not simulated; and with which block it is simulated. */
  readonly transfer: 'copy' | 'start-here' | 'this-unit-only'
  readonly copied?: 'two-point' | 'levels' | 'colour'
  /** How much a change of it does to the picture, against the others; nothing where a reader in a hurry leaves it. */
  readonly weight?: number
  /** Cases in which each of its values is tried, with what it costs. */
  readonly tried?: 'games' | 'desktop'
  /** It flickers, which can hurt photosensitive people: said before it is tried. */
  readonly flickers?: true
}

/** Some roles of a kind. */
export type RoleEntries = Readonly<Record<string, RoleEntry>>
