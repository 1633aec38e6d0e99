/* What the API answers, by the names that pages use; the forms are made from the OpenAPI document (scripts/types). */
import type { components } from './answers';

type Answers = components['schemas'];

export type Page<T> = { items: T[]; next: string | null };
/** The staff's page is not part of the API. */
export type Collected = { title: string; fileName: string; file: string; qr: string | null; parts: { name: string; content: string }[]; steps: string[] };

/** Pages make some themselves, which have no type of their own. */
export type Problem = Omit<Answers['Problem'], 'type'>;
export type Operator = Answers['Operator.Operator'];
export type Site = Answers['Office.Site'];
export type Listener = Answers['Office.Listener'];
export type Gateway = Answers['Office.Gateway'];
export type Revision = Answers['Profile.Revision'];
export type Profile = Answers['Profile.Profile'];
export type Device = Answers['Person.Device'];
export type Person = Answers['Person.Person'];
export type Handout = Answers['Handout.Handout'];
export type Prepared = Answers['Handout.Prepared'];
export type Cause = Answers['Trial.Cause'];
export type Rung = Answers['Trial.Rung'];
export type Trial = Answers['Trial.Trial'];
export type Measured = Answers['Trial.Measured'];
export type Life = Answers['Life.Life'];
export type RoundResult = Answers['Round.Result'];
export type Round = Answers['Round.Round'];
export type Session = Answers['Watch.Session'];
export type Backup = Answers['Watch.Backup'];
export type Finding = Answers['Watch.Finding'];
export type Station = Answers['Watch.Station'];
export type Fitness = Answers['Handout.Unfit'];
export type Instruction = Answers['Watch.Instruction'];
export type Overview = Answers['Watch.Overview'];
export type Hit = Answers['Watch.Hit'];
export type Job = Answers['Watch.Job'];
export type Team = Answers['Person.Team'];
export type JournalEntry = Answers['Watch.JournalEntry'];
export type Change = Answers['Change'];
export type Difference = Answers['Change.Difference'];
export type Affected = Answers['Change.Affected'];
export type Preview = Answers['Change.Preview'];
export type DeviceChange = Answers['Change.DeviceChange'];
export type Ordered = Answers['Change.Ordered'];
export type Drift = Answers['Change.Drift'];
export type ExplainedSetting = Answers['Change.ExplainedSetting'];
export type ExplainedListener = Answers['Change.ExplainedListener'];
export type DeviceFacts = Answers['Change.Facts'];
export type Hop = Answers['Walk.Hop'];
export type RoutePath = Answers['Walk.Path'];
export type SheetListener = Answers['Walk.SheetListener'];
export type SheetGateway = Answers['Walk.SheetGateway'];
export type SheetSite = Answers['Walk.SheetSite'];
export type Sheet = Answers['Walk.Sheet'];
export type Need = Answers['Walk.Need'];
export type Door = Answers['Walk.Door'];
export type Choice = Answers['Walk.Choice'];
export type NetworkWords = Answers['Walk.NetworkWords'];
export type Inspection = Answers['Inspect.Inspection'];
export type InspectionReport = Answers['Inspect.Report'];
export type Inside = Answers['Profile.Inside'];
export type AdoptedFile = Answers['Adopt.File'];
export type Adopted = Answers['Adopt.Adopted'];
export type Variant = Answers['Variant.Variant'];
export type Authority = Answers['Certificate.Authority'];
export type Certificate = Answers['Certificate.Certificate'];
