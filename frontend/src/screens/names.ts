/** The screens of a study, in the order of the work. */
export const SCREENS = {
  data: 'Data',
  codebook: 'Codebook',
  ask: 'Ask',
  compare: 'Compare',
  report: 'Report',
}
