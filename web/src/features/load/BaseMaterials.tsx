import type { BaseMaterial } from "../../api/generated/BaseMaterial";
import { Button } from "../../ui/Button";
import { NameField } from "../../ui/NameField";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";

const natures = [
  { value: "rigid", label: "rigid" },
  { value: "rubber", label: "rubber-like" },
  { value: "clear", label: "clear" },
];

/** What a jetting machine builds parts of; the first is the usual one. */
export function BaseMaterials({ all, onChange }: { all: BaseMaterial[]; onChange: (all: BaseMaterial[]) => void }) {
  const put = (at: number, material: BaseMaterial) => onChange(all.map((m, i) => (i === at ? material : m)));
  const fresh = () => {
    const names = ["Rigid", "Soft", "Clear", "Another"];
    const free = names.find((n) => all.every((m) => m.name !== n)) ?? `Material ${all.length + 1}`;
    onChange([...all, { name: free, nature: { is: "rigid" } }]);
  };
  return (
    <section aria-label="Base materials" className="pt-3">
      <h3 className="heading border-b border-line pb-1.5">Base materials</h3>
      <ul>
        {all.map((m, at) => (
          <li key={at} className="flex items-center gap-2 border-b border-line py-1">
            <NameField
              label={`Name of base material ${at + 1}`}
              value={m.name}
              className="mx-0! min-w-0 flex-1 border-line! bg-sheet!"
              onCommit={(name) => put(at, { ...m, name })}
            />
            <Select
              label={`How ${m.name} is`}
              value={m.nature.is}
              options={natures}
              className="w-28"
              onChange={(is) =>
                put(at, { ...m, nature: is === "rubber" ? { is, shore_a: 50 } : is === "clear" ? { is } : { is: "rigid" } })
              }
            />
            {m.nature.is === "rubber" && (
              <NumberField
                label={`Hardness of ${m.name}`}
                value={m.nature.shore_a}
                unit="A"
                digits={0}
                width={64}
                onCommit={(shore_a) => put(at, { ...m, nature: { is: "rubber", shore_a } })}
              />
            )}
            {all.length > 1 && (
              <button
                type="button"
                className="text-soft hover:text-wrong"
                aria-label={`Take ${m.name} off`}
                onClick={() => onChange(all.filter((_, i) => i !== at))}
              >
                ✕
              </button>
            )}
          </li>
        ))}
      </ul>
      <Button className="mt-2" onClick={fresh}>
        Another material
      </Button>
    </section>
  );
}
