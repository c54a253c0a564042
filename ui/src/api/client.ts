import createClient from 'openapi-fetch'

import type { components, paths } from './contract.gen'

export type Schemas = components['schemas']
export type Model = Schemas['Model']
export type Problem = Schemas['Problem']
export type Fault = Schemas['Fault']
export type Reason = Schemas['Reason']
export type View = Schemas['View']
export type ViewChanged = Schemas['ViewChanged']
export type Line = Schemas['Line']
export type Rule = Schemas['Rule']
export type Block = Schemas['Block']
export type Joint = Schemas['Joint']
export type Editor = Schemas['Editor']
export type Field = Schemas['Field']
export type Control = Schemas['Control']
export type Receiver = Schemas['Receiver']
export type Shelf = Schemas['Shelf']
export type ShelfPiece = Schemas['ShelfPiece']
export type ShelfAct = Schemas['ShelfAct']
export type OnShelf = Schemas['OnShelf']
export type PieceCopy = Schemas['PieceCopy']
export type Affected = Schemas['Affected']
export type Fit = Schemas['Fit']
export type Planned = Schemas['Planned']
export type Plan = Schemas['Plan']
export type CodePin = Schemas['CodePin']
export type CodeWalk = Schemas['CodeWalk']
export type PowerFigure = Schemas['PowerFigure']
export type Leads = Schemas['Leads']
export type PlanFunction = Schemas['PlanFunction']
export type PlanHand = Schemas['PlanHand']
export type OtherPlan = Schemas['OtherPlan']
export type Sheet = Schemas['Sheet']
export type Phones = Schemas['Phones']
export type PhoneCode = Schemas['PhoneCode']
export type Ticked = Schemas['Ticked']
export type Behind = Schemas['Behind']
export type Act = Schemas['Act']
export type Kind = Schemas['Kind']
export type Brought = Schemas['Brought']
export type Complaint = Schemas['Complaint']
export type Cause = Schemas['Cause']
export type Diagnosis = Schemas['Diagnosis']
export type Look = Schemas['Look']
export type NamedFault = Schemas['NamedFault']
export type SaidFault = Schemas['SaidFault']
export type Film = Schemas['Film']
export type Standing = Schemas['Standing']
export type Learner = Schemas['Learner']
export type ToldFigure = Schemas['ToldFigure']
export type LinkageReport = Schemas['LinkageReport']
export type Recording = Schemas['Recording']
export type Picture = Schemas['Picture']
export type Still = Schemas['Still']
export type Piece = Schemas['Piece']
export type StageWords = Schemas['StageWords']
export type Drill = Schemas['Drill']
export type Mixing = Schemas['Mixing']
export type MixingChoice = Schemas['MixingChoice']
export type MixingField = Schemas['MixingField']
export type Pair = Schemas['Pair']
export type Path = Schemas['Path']
export type Playing = Schemas['Playing']
export type Revision = Schemas['Revision']
export type Differences = Schemas['Differences']
export type ToBench = Schemas['ToBench']
export type FromBench = Schemas['FromBench']

export type Patch = Schemas['Patch']
/** What a field is set to; an empty text leaves it out. */
export type Setting = Schemas['Setting']

export const api = createClient<paths>({ baseUrl: location.origin, fetch: (request) => fetch(request) })

/** This page, for the record of who made a revision. */
export const page = crypto.randomUUID()

/** What an edit needs to be known by, so that sending it again is no second edit. */
export function origin() {
  return { 'Axtren-Page': page, 'Axtren-Edit': crypto.randomUUID() }
}

/** A problem for when no answer came at all. */
export const unreachable: Problem = {
  type: 'about:blank',
  title: 'The server does not answer',
  status: 0,
  detail: 'is Axtren still running?',
}
