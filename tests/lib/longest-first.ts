import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Written by `npm test -- --keep-times`. */
export const TIMES_FILE = path.resolve(import.meta.dirname, '../times.json');
const root = path.resolve(import.meta.dirname, '../..');

/** Files by what they took in the last run that was kept, longest first: the lanes then end together. */
export class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const times = existsSync(TIMES_FILE)
      ? (JSON.parse(readFileSync(TIMES_FILE, 'utf8')) as { files: Record<string, number> }).files
      : {};
    // One that was never timed may be long.
    const seconds = ({ moduleId }: TestSpecification) => times[path.relative(root, moduleId)] ?? Infinity;
    return [...files].sort((a, b) => seconds(b) - seconds(a) || a.moduleId.localeCompare(b.moduleId));
  }
}
