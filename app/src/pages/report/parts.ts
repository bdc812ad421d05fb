import { STATEMENT_PARTS, type ReportLayout } from '@long-tally/core';

/** Every part that a report may have, by what it is for. */
export const PARTS: Readonly<
  Record<ReportLayout['kind'], readonly (readonly [id: string, title: string])[]>
> = {
  statement: [
    ['findings', 'What matters'],
    ...STATEMENT_PARTS.map(({ id, title }) => [id, title] as const),
    ['days', 'Days'],
    ['outage-list', 'Outages, one by one'],
    ['lasts', 'How long the battery lasts without the grid'],
    ['trials', 'Trials'],
    ['scenarios', 'What a change would have done'],
    ['journal', 'Journal'],
  ],
  evidence: [
    ['claim', 'What is claimed'],
    ['system', 'The system'],
    ['measured', 'How it was measured'],
    ['battery', 'Battery'],
    ['capacity', 'Estimates of the capacity'],
    ['trials', 'Trials'],
    ['losses', 'Losses'],
    ['outage-list', 'Outages, one by one'],
    ['files', 'Files'],
    ['limits', 'What this does not prove'],
  ],
  service: [
    ['system', 'The system'],
    ['battery', 'Battery'],
    ['losses', 'Losses'],
    ['trials', 'Trials'],
    ['outages', 'Outages'],
    ['lasts', 'How long the battery lasts without the grid'],
    ['combinations', 'What must not run together'],
    ['findings', 'What matters'],
    ['settings', 'Settings found and left'],
    ['signatures', 'Signatures'],
  ],
};

export const KIND_NAMES: Readonly<Record<ReportLayout['kind'], string>> = {
  statement: 'Statement',
  evidence: 'Evidence pack',
  service: 'Commissioning and service sheet',
};

/** A layout to begin with. */
export const PLAIN_LAYOUT: ReportLayout = {
  schema: 'long-tally/report-layout@1',
  kind: 'statement',
  heading: '',
  remarks: '',
  claim: '',
  without: [],
  paper: 'A4',
};
