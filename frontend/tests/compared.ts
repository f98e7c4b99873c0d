/** Comparisons that `make_answers.py` had from the core about the demo data. */
import { readFileSync } from 'node:fs'

import type { Schemas } from '@/api/types'

const file = JSON.parse(readFileSync('tests/answers.json', 'utf8')) as {
  compared: Record<string, Schemas['SideBySide']>
}

export const compared = (name: string) => structuredClone(file.compared[name]!)
