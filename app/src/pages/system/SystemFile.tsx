import { parseSystem, type System } from '@long-tally/core';
import { FileButton } from '../../ui/FileButton.js';

/** Takes a system from a file; what is wrong with it is said key by key. */
export function SystemFile({ onLoad }: { readonly onLoad: (system: System) => void }) {
  return (
    <div className="mt-2">
      <FileButton
        label="Or take it from a system file (.json):"
        accept=".json,application/json"
        onFile={async (file) => onLoad(parseSystem(await file.text(), file.name))}
      />
    </div>
  );
}
