/** Ways to give a share an interval, by the names of the options. */
export const intervalMethods = [
  { value: 'wilson', title: 'Wilson (usual)' },
  { value: 'clopper_pearson', title: 'exact (Clopper–Pearson)' },
  { value: 'agresti_coull', title: 'Agresti–Coull' },
  { value: 'jeffreys', title: 'Jeffreys' },
  { value: 'wald', title: 'Wald' },
] as const
