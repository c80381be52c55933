import { describe, expect, it } from 'vitest'
import { isDatabaseAway, isDatabaseFull, openDatabase } from '#db'

const failing = async (sql: string, patience = 300): Promise<unknown> => {
  const db = openDatabase(process.env.WEXMAR_TEST_DATABASE!, { most: 1, patience })
  try {
    await db.sequelize.query(sql)
    throw new Error('It did not fail')
  } catch (error) {
    return error
  } finally {
    await db.sequelize.close()
  }
}

describe('a statement', () => {
  it('that takes too long is cut off by the database, and is told from one that is wrong', async () => {
    const slow = await failing(
      'SELECT COUNT(*) FROM seq_1_to_100000 a JOIN seq_1_to_100000 b ON a.seq * b.seq % 7 = 1',
    )
    expect(isDatabaseAway(slow)).toBe(true)
    // From another thread an error brings only its words.
    expect(isDatabaseAway(new Error((slow as Error).message))).toBe(true)
    const wrong = await failing('SELECT nonsense')
    expect(isDatabaseAway(wrong)).toBe(false)
    expect(isDatabaseFull(wrong)).toBe(false)
  })
  it('that finds no room is told by number and by words', () => {
    expect(isDatabaseFull({ original: { errno: 1114, message: 'The table is full' } })).toBe(true)
    expect(isDatabaseFull(new Error('(conn:3, no: 1021, SQLState: HY000) Disk full (/tmp/x)'))).toBe(true)
    expect(isDatabaseFull(new Error('Got error 168, errno: 28 "No space left on device"'))).toBe(true)
    expect(isDatabaseFull(new Error('errno: 281'))).toBe(false)
  })
})
