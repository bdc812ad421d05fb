import { z } from 'zod';
import { parseJson } from '../model/validation.js';

/** What a report is for. */
export const REPORT_KINDS = ['statement', 'evidence', 'service'] as const;

/** Energies of which a report counts the days above a level. */
export const LEVEL_ENERGIES = ['solar', 'load', 'import', 'export'] as const;
const levelKWh = z.number().positive().max(1e6).optional();

/** How a home's report was last set out, `long-tally/report-layout@1`. */
export const reportLayoutSchema = z.object({
  schema: z.literal('long-tally/report-layout@1'),
  kind: z.enum(REPORT_KINDS),
  heading: z.string().max(200),
  remarks: z.string().max(20_000),
  /** What is claimed, and the clauses of the warranty it rests on, as its owner writes them. */
  claim: z.string().max(20_000),
  /** Parts that are left out. */
  without: z.array(z.string().max(50)).max(50),
  paper: z.enum(['A4', 'Letter']),
  /** kWh a day; a statement counts the days above each. */
  levels: z.object({ solar: levelKWh, load: levelKWh, import: levelKWh, export: levelKWh }).optional(),
});
export type ReportLayout = z.infer<typeof reportLayoutSchema>;

/** @throws InputError naming what is wrong */
export function parseReportLayout(text: string, where: string): ReportLayout {
  return parseJson(
    reportLayoutSchema,
    text,
    where,
    'the layout of a report, schema long-tally/report-layout@1',
  );
}
