/** What a division is to be like, by the names that wishes have. */
import type { Schemas } from '@/api/client'

export const PREFER: { prefer: Schemas['Wishes']['prefer']; name: string }[] = [
  { prefer: 'fewest', name: 'few pieces' },
  { prefer: 'hidden', name: 'hidden seams' },
  { prefer: 'sturdy', name: 'sturdiest joints' },
  { prefer: 'support', name: 'least support' },
  { prefer: 'limbs', name: 'limbs apart' },
]
