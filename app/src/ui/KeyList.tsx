import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';

const KEYS: readonly (readonly [string, string])[] = [
  ['↑ ↓', 'move to the next or previous day'],
  ['Shift with ↑ ↓', 'extend the selection'],
  ['Page up, page down', 'move by a month'],
  ['m, y, a', 'select the month, the year, everything'],
  ['[ ]', 'previous and next range of the same length'],
  ['Enter', 'open the day'],
  ['w', 'open the working of the focused figure'],
  ['/', 'search days, notes, figures, views and what can be done'],
  ['n', 'write a note on the selected days; a letter chooses what it is about'],
  [
    'g then d, a, l, w, u, m, t, i, o, s, j, r, h, e',
    'go to Days, Account, Losses, Wear, Outages, Money, Trials, What-if, Sources, System, Journal, Report, Handbook, Settings',
  ],
  ['Esc', 'close'],
  ['?', 'this list'],
];

/** The list of keys. */
export function KeyList({ shown, onClose }: { readonly shown: boolean; readonly onClose: () => void }) {
  return (
    <Dialog open={shown} onClose={onClose} className="fixed inset-0 z-30">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-4">
        <DialogPanel className="w-[440px] border border-rule-2 bg-paper p-5 text-ink">
          <DialogTitle className="text-lg">Keys</DialogTitle>
          <table className="mt-2 w-full">
            <tbody>
              {KEYS.map(([key, what]) => (
                <tr key={key} className="border-t border-rule">
                  <th scope="row" className="py-1 pr-4 text-left font-semibold whitespace-nowrap">
                    {key}
                  </th>
                  <td className="py-1">{what}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <button type="button" className="action mt-4" onClick={onClose}>
            Close
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
