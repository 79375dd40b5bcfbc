/** One of a few, side by side. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <div className="flex gap-2" role="radiogroup" aria-label={label}>
      {options.map(([is, name]) => (
        <button
          key={is}
          type="button"
          role="radio"
          aria-checked={is === value}
          onClick={() => is !== value && onChange(is)}
          className={`rounded-[4px] border px-3 py-1 font-semibold ${is === value ? "border-plum bg-plum text-white" : "border-line bg-sheet hover:border-faint"}`}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
