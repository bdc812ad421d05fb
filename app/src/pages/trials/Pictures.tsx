import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import { addPicture, removePicture } from '../../db/attachments.js';
import { db, type StoredPicture, type StoredTrial } from '../../db/database.js';
import { checkedRows, pictureRow } from '../../db/rows.js';
import { FileButton } from '../../ui/FileButton.js';
import { useWrite } from '../../ui/useWrite.js';

interface Props {
  readonly trial: StoredTrial;
  readonly place: number;
  readonly isOpen: boolean;
}

/** The pictures of displays beside one reading, and where another is added. */
export function Pictures({ trial, place, isOpen }: Props) {
  const { write, failure } = useWrite();
  const rows = useLiveQuery(() => db.attachments.where('trialId').equals(trial.id).toArray(), [trial.id]);
  const own = checkedRows(pictureRow, rows ?? []).good.filter((one) => one.place === place);
  return (
    <div className="flex w-full flex-wrap items-end gap-3">
      {own.map((one) => (
        <Picture key={one.id} picture={one} onRemove={() => void write(() => removePicture(one))} />
      ))}
      {isOpen && (
        <div className="print:hidden">
          <FileButton
            label={`A picture of the display, reading ${place + 1}:`}
            accept="image/png,image/jpeg"
            onFile={(file) => addPicture(trial, place, file)}
          />
        </div>
      )}
      {failure}
    </div>
  );
}

interface PictureProps {
  readonly picture: StoredPicture;
  readonly onRemove: () => void;
}

function Picture({ picture: { picture, name }, onRemove }: PictureProps) {
  const [source, setSource] = useState<string | null>(null);
  const [isLarge, setLarge] = useState(false);
  useEffect(() => {
    const reader = new FileReader();
    reader.onload = () => setSource(reader.result as string);
    reader.readAsDataURL(picture);
    return () => reader.abort();
  }, [picture]);
  if (source === null) return null;
  return (
    <figure>
      <button
        type="button"
        aria-label={`${isLarge ? 'Smaller' : 'Larger'}: ${name}`}
        onClick={() => setLarge(!isLarge)}
      >
        <img
          src={source}
          alt={`Display: ${name}`}
          className={isLarge ? 'max-h-[70vh] max-w-full' : 'h-20 w-auto'}
        />
      </button>
      <figcaption className="text-[12px] text-faint">
        {name}{' '}
        <button type="button" className="quiet print:hidden" aria-label={`Remove ${name}`} onClick={onRemove}>
          Remove
        </button>
      </figcaption>
    </figure>
  );
}
