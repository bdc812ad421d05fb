import type { Configuration, Proposal } from '@long-tally/core';
import { Link } from 'react-router';
import type { Home } from '../../db/database.js';
import { saveSystem } from '../../db/homes.js';
import { useWrite } from '../../ui/useWrite.js';
import { localized } from '../../ui/localized.js';

interface Props {
  readonly proposals: readonly Proposal[];
  readonly home: Home;
  readonly configuration: Configuration;
}

/** What the log shows and the system does not say, to be put into its description. */
export function Proposals({ proposals, home, configuration }: Props) {
  const { write, failure } = useWrite();
  if (proposals.length === 0) return null;
  const take = ({ change }: Proposal) => {
    const changed = {
      ...home.system,
      configurations: (home.system.configurations ?? []).map((one) =>
        one === configuration.described ? { ...one, ...change } : one,
      ),
    };
    return write(() => saveSystem(home.id, home.system, changed), {
      says: 'The description of the system is changed.',
      undo: () => saveSystem(home.id, changed, home.system),
    });
  };
  return (
    <section aria-label="A better description" className="my-2 max-w-4xl">
      <p>
        The log shows what{' '}
        <Link to={`/h/${home.id}/system`} className="underline decoration-dotted">
          the description of the system
        </Link>{' '}
        does not say:
      </p>
      <ul>
        {proposals.map((proposal) => (
          <li key={proposal.says} className="border-b border-rule py-1">
            {localized(proposal.says)}{' '}
            <button type="button" className="quiet" onClick={() => void take(proposal)}>
              Put it into the description
            </button>
          </li>
        ))}
      </ul>
      {failure}
    </section>
  );
}
