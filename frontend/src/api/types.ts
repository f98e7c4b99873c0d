/** Short names for the types that the server's description generates. */
import type { components } from './schema'

export type Schemas = components['schemas']

export type Answer = Schemas['Answer']
export type AnswerWithFigures = Schemas['AnswerWithFigures']
export type PanelWithFigures = Schemas['PanelWithFigures']
export type Category = Schemas['Category']
export type Check = Schemas['Check']
export type Counted = Schemas['Counted']
export type LensOffered = Schemas['LensOffered']
export type NamedTest = Schemas['NamedTest']
export type PanelHead = Schemas['PanelHead']
export type Share = Schemas['Share']
export type CodebookSeen = Schemas['CodebookSeen']
export type DictionaryPart = NonNullable<Schemas['DictionaryColumnOut']['part']>
export type DataSet = Schemas['DataSetOut']
export type DataSetChange = Schemas['DataSetChange']
export type Entry = Schemas['EntryOut']
export type MadeStep = Schemas['StepOut']
export type Step = MadeStep['step']
export type Job = Schemas['JobOut']
export type Kind = Variable['kind']
export type MissingCode = Schemas['MissingCode']
export type ProblemDetails = Schemas['Problem']
export type Question = Schemas['Question']
export type Options = Question['options']
export type RowsPage = Schemas['RowsPage']
export type SavedQuestion = Schemas['QuestionOut']
export type Session = Schemas['Session']
export type Study = Schemas['StudyOut']
export type Subset = Schemas['AllOf'] | Schemas['AnyOf']
export type Condition =
  Schemas['IsOneOf'] | Schemas['IsBetween'] | Schemas['IsDated'] | Schemas['IsMissing']
export type Aside = Schemas['Aside']
export type NamedSubset = Schemas['SubsetOut']
export type Rule = Condition | Subset
export type Summary = Entry['summary']
export type Variable = Schemas['Variable']
export type FigureSpec = Record<string, unknown>
export type Figures = Record<string, FigureSpec>
