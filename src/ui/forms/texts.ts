import * as yup from 'yup'
import { LIMITS } from '../../core/limits.ts'

/** Text of at most so many letters, without the blanks around it. */
export const letters = (most: number) =>
  yup
    .string()
    .trim()
    .defined()
    .max(most, ({ max, value }: { max: number; value: string }) => `${value.length.toLocaleString('en')} letters; at most ${max} are kept, so shorten it.`)

/** A name that must be there. */
export const nameText = letters(LIMITS.name).required('Empty; a name is wanted.')

/** Why a name cannot be taken; null when it can. */
export function nameProblem(name: string): string | null {
  try {
    nameText.validateSync(name)
    return null
  } catch (error) {
    return (error as yup.ValidationError).message
  }
}
