interface Props {
  readonly id: string;
  readonly text: string;
  readonly children: React.ReactNode;
}

/** A field under its label. */
export function Labelled({ id, text, children }: Props) {
  return (
    <div>
      <label htmlFor={id} className="block text-[12.5px] text-faint">
        {text}
      </label>
      {children}
    </div>
  );
}
