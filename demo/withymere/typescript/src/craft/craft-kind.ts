export enum CraftKind {
  Narrowboat = 'narrowboat',
  WideBarge = 'wide-barge',
  WorkFlat = 'work-flat',
  HireBoat = 'hire-boat',
  Tug = 'tug',
}
