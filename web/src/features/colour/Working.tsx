import { api } from "../../api/client";
import { useEditing } from "../../state/editing";
import { Button } from "../../ui/Button";
import { Bar } from "../../ui/states";

/** Says that an edit takes its time, how far it is, and stops it where it can be stopped. */
export function Working({ id }: { id: number }) {
  const done = useEditing((s) => s.done);
  if (done === null) return <>Working on it</>;
  return (
    <span className="pointer-events-auto flex items-center gap-3">
      Working on it
      <Bar done={done} />
      <Button onClick={() => void api.stopEdit(id)}>Stop</Button>
    </span>
  );
}
