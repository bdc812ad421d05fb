import { useId } from 'react';
import { useDropzone } from 'react-dropzone';

interface Props {
  readonly label: string;
  readonly labelClass: string;
  /** Endings that are offered for choice; what is dropped is looked at whatever it is called. */
  readonly accept: string;
  readonly isMany?: boolean;
  readonly isBusy?: boolean;
  readonly onFiles: (files: readonly File[]) => void;
  readonly className: string;
}

/** A place for files: they are dropped on it, or chosen at its button. */
export function FileDrop({
  label,
  labelClass,
  accept,
  isMany = false,
  isBusy = false,
  onFiles,
  className,
}: Props) {
  const id = useId();
  const { getRootProps, getInputProps, inputRef, open, isDragActive } = useDropzone({
    disabled: isBusy,
    // The button opens the choice, for the mouse and for the keyboard.
    noClick: true,
    noKeyboard: true,
    noDragEventsBubbling: true,
    onDrop: (files) => {
      // The same file may be chosen once more.
      inputRef.current.value = '';
      if (files.length > 0) onFiles(files);
    },
  });
  return (
    <div
      {...getRootProps({
        className: `${className} ${isDragActive ? 'bg-selected outline-2 outline-ink' : ''}`,
      })}
    >
      <label id={`${id}-label`} htmlFor={id} className={labelClass}>
        {label}
      </label>
      <input {...getInputProps({ id, accept, multiple: isMany, 'aria-label': undefined })} />
      <button
        type="button"
        className="action"
        disabled={isBusy}
        aria-describedby={`${id}-label`}
        onClick={open}
      >
        {isMany ? 'Choose files' : 'Choose a file'}
      </button>
    </div>
  );
}
