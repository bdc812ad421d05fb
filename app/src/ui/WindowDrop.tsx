import { useDropzone } from 'react-dropzone';

interface Props {
  /** What becomes of what is dropped. */
  readonly says: string;
  readonly onFiles: (files: readonly File[]) => void;
  readonly className: string;
  readonly children: React.ReactNode;
}

/** The whole window as a place for files: what lands on no field of its own is taken here, and that is said meanwhile. */
export function WindowDrop({ says, onFiles, className, children }: Props) {
  const { getRootProps, isDragActive } = useDropzone({
    noClick: true,
    noKeyboard: true,
    // Pasting belongs to the fields one types in.
    noPaste: true,
    onDrop: (files) => files.length > 0 && onFiles(files),
  });
  return (
    <div {...getRootProps({ className })}>
      {children}
      {isDragActive && (
        <p
          role="status"
          className="pointer-events-none fixed inset-x-0 bottom-0 z-50 border-t-2 border-ink bg-selected-2 px-5 py-3 text-center font-semibold"
        >
          {says}
        </p>
      )}
    </div>
  );
}
