import type { Transaction } from 'sequelize'
import type { Database } from '#db'

const LONGEST = 70

/** An address for a model that none has yet: two models may be written alike, and one without Latin letters has none of its own. In: address that is wanted. */
export const freeSlug = async (db: Database, wanted: string, transaction: Transaction): Promise<string> => {
  for (let n = 1; ; n++) {
    const slug = n === 1 ? wanted : `${wanted.slice(0, LONGEST)}-${n}`
    if (!(await db.models.findOne({ where: { slug }, attributes: ['id'], transaction }))) return slug
  }
}
