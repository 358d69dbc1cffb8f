import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useLocation } from "wouter";

import { sendForm } from "../api/client";
import type { Peek } from "../api/types";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { count } from "../ui/numbers";

const UNITS = ["mm", "cm", "m", "in", "ft"].map((unit) => ({ value: unit, text: unit }));
const AXES = [
  { value: "y", text: "Y up" },
  { value: "z", text: "Z up" },
];

function form(files: File[], unit?: string, up?: string) {
  const data = new FormData();
  for (const file of files) data.append("files", file);
  if (unit) data.append("unit", unit);
  if (up) data.append("up", up);
  return data;
}

/** Looks into the file first: what it holds, how large it is, and in which unit that is meant. */
export function OpenDialog({ files, onClose }: { files: File[]; onClose: () => void }) {
  const [unit, setUnit] = useState<string>();
  const [up, setUp] = useState<string>();
  const [, go] = useLocation();
  const peek = useQuery({
    queryKey: ["peek", files.map((f) => `${f.name}:${f.size}:${f.lastModified}`), unit, up],
    queryFn: () => sendForm<Peek>("/peek", form(files, unit, up)),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  });
  const open = useMutation({
    mutationFn: () => {
      const asks = peek.data?.asks_unit;
      return sendForm<{ id: number }>(
        "/projects",
        asks ? form(files, unit ?? peek.data?.unit, up ?? peek.data?.up) : form(files),
      );
    },
    onSuccess: ({ id }) => go(`/projects/${id}`),
  });
  const error = open.error ?? peek.error;
  const found = peek.data;

  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/35" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-50 w-[32rem] -translate-x-1/2 -translate-y-1/2 border border-ink bg-paper p-6 shadow-xl">
          <Dialog.Title className="heading text-[20px]">{found?.file ?? files[0]?.name}</Dialog.Title>
          <Dialog.Description className="label mb-4">
            {peek.isPending ? "Reading the file…" : "What Pivrel found in it"}
          </Dialog.Description>
          {error ? (
            <p role="alert" className="mb-4 border border-wrong bg-wrong-wash px-3 py-2">
              {error.message}.
            </p>
          ) : (
            found && <Found peek={found} />
          )}
          {found?.asks_unit && !error && (
            <div className="mb-4 border-y border-rule py-3">
              <p className="mb-2">
                OBJ files state neither unit nor upward axis.
                {!unit && !up && " This is the likeliest reading; correct it if the size above is wrong."}
              </p>
              <div className="flex gap-4">
                <Choice label="Unit" value={unit ?? found.unit} onChange={setUnit} options={UNITS} />
                <Choice label="Upward axis" value={up ?? found.up} onChange={setUp} options={AXES} />
              </div>
            </div>
          )}
          <div className="flex justify-end gap-2">
            <Button onClick={onClose}>{error ? "Close" : "Cancel"}</Button>
            {!error && (
              <Button look="main" disabled={!found || open.isPending} onClick={() => open.mutate()}>
                {open.isPending ? "Opening…" : "Open as a project"}
              </Button>
            )}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Found({ peek }: { peek: Peek }) {
  const [x, y, z] = peek.size_mm.map((side) => count(Math.round(side * 10) / 10));
  return (
    <>
      <dl className="mb-4 grid grid-cols-[7rem_1fr] gap-y-1">
        <dt className="label">Size</dt>
        <dd className="figure text-[19px] font-medium">
          {x} × {y} × {z} mm
        </dd>
        <dt className="label">Holds</dt>
        <dd className="figure">
          {count(peek.parts)} parts · {count(peek.faces)} faces · {count(peek.triangles)} triangles
        </dd>
      </dl>
      {peek.found.length > 0 && (
        <ul className="mb-4 list-disc pl-5 text-faint">
          {peek.found.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
    </>
  );
}
