/** A part of a drawing that opens the working of a figure. */
export interface Part {
  readonly key: string;
  readonly label: string;
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

interface Props {
  readonly width: number;
  readonly height: number;
  readonly parts: readonly Part[];
  readonly onOpen: (key: string) => void;
  /** The drawing itself. */
  readonly children: React.ReactNode;
}

/** A drawing with a button over each part of it, so that it can be saved as a picture and its parts opened by keyboard. */
export function Pressable({ width, height, parts, onOpen, children }: Props) {
  return (
    <div className="relative" style={{ width, height }}>
      <svg width={width} height={height} aria-hidden className="block" fontSize="12.5">
        {children}
      </svg>
      {parts.map(({ key, label, left, top, width: wide, height: tall }) => (
        <button
          key={key}
          type="button"
          data-figure={key}
          aria-label={label}
          onClick={() => onOpen(key)}
          className="absolute"
          style={{ left, top, width: wide, height: tall }}
        />
      ))}
    </div>
  );
}
