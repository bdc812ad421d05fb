interface Props {
  /** What the button that writes says. */
  readonly write: string;
  /** Leaves what is edited as it was; null where nothing is edited. */
  readonly onCancel: (() => void) | null;
  readonly problem: string | null;
}

/** The foot of a form for one entry of a list: write, leave, and what is wrong. */
export function FormFoot({ write, onCancel, problem }: Props) {
  return (
    <>
      <p className="col-span-full flex gap-4">
        <button type="submit" className="action">
          {write}
        </button>
        {onCancel && (
          <button type="button" className="quiet text-faint" onClick={onCancel}>
            Leave it as it was
          </button>
        )}
      </p>
      <p role="alert" className="col-span-full text-red empty:hidden">
        {problem}
      </p>
    </>
  );
}
