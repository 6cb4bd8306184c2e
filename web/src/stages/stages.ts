export const stages = ['order', 'master', 'mould', 'gates', 'rubber', 'shot', 'pulls'] as const
export type Stage = (typeof stages)[number]
export const stageName: Record<Stage, string> = {
  order: 'Order', master: 'Master', mould: 'Mould', gates: 'Gates', rubber: 'Rubber', shot: 'Shot', pulls: 'Pulls',
}
