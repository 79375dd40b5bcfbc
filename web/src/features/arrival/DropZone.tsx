import { useState, type ReactNode } from "react";

/** What the file picker offers; the content decides in the end. */
export const endings = ".stl,.obj,.mtl,.ply,.3mf,.wrl,.vrml,.zip,.gcode,.gco,.g,.svg,.png,.jpg,.jpeg,.webp";

/** Takes files dropped anywhere on it. */
export function DropZone({ what, onFiles, children }: { what: string; onFiles: (files: File[]) => void; children: ReactNode }) {
  const [isOver, setOver] = useState(false);
  const carriesFiles = (e: React.DragEvent) => e.dataTransfer.types.includes("Files");
  return (
    <div
      className="h-full"
      onDragOver={(e) => {
        if (!carriesFiles(e)) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => !e.currentTarget.contains(e.relatedTarget as Node | null) && setOver(false)}
      onDrop={(e) => {
        if (!carriesFiles(e)) return;
        e.preventDefault();
        setOver(false);
        onFiles([...e.dataTransfer.files]);
      }}
    >
      {children}
      {isOver && (
        <div className="pointer-events-none fixed inset-3 z-40 grid place-items-center border-2 border-dashed border-plum bg-plum-tint/85 text-lg font-semibold text-plum">
          {what}
        </div>
      )}
    </div>
  );
}
