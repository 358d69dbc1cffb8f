import type { ComponentProps } from "react";

interface Props extends Omit<ComponentProps<"input">, "type" | "onChange"> {
  onFiles: (files: File[]) => void;
}

/** The hidden chooser of files behind a button; the same files can be chosen again. */
export function FileInput({ onFiles, ...rest }: Props) {
  return (
    <input
      type="file"
      multiple
      className="hidden"
      onChange={(event) => {
        onFiles([...(event.target.files ?? [])]);
        event.target.value = "";
      }}
      {...rest}
    />
  );
}
