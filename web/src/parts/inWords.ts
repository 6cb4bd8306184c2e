import type { NamedRecipe } from '../api/client'

/** A colour recipe as the log has it: grey 1.2 g, black 3 drops in 80 g. */
export function inWords({ batch, pigments }: NamedRecipe['recipe']): string {
  return `${pigments.map((p) => (p.grams ? `${p.name} ${p.grams} g` : `${p.name} ${p.drops} drops`)).join(', ')} in ${batch} g`
}
