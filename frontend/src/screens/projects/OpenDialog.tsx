import { useMutation } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate } from "react-router";

import { sendForm, sendJson } from "../../api/client";
import type { Created } from "../../api/wire.gen";
import { Import } from "../imports/Import";
import { useNotices } from "../../ui/notices";

interface Props {
  files: File[];
  onClose: () => void;
}

/** A project of the files: a project file as it was, a model after the import check. */
export function OpenDialog({ files, onClose }: Props) {
  const go = useNavigate();
  if (files.some((file) => file.name.toLowerCase().endsWith(".pivrel"))) {
    return <ProjectFile files={files} onClose={onClose} />;
  }
  return (
    <Import
      files={files}
      action="Open as a project"
      onClose={onClose}
      onTake={async (importId, opening) => {
        const { id } = await sendJson<Created>("POST", `/imports/${importId}/project`, opening);
        await go(`/projects/${id}`);
      }}
    />
  );
}

function ProjectFile({ files, onClose }: Props) {
  const go = useNavigate();
  const tell = useNotices((s) => s.tell);
  const { mutate } = useMutation({
    mutationFn: () => {
      const form = new FormData();
      for (const file of files) form.append("files", file);
      return sendForm<Created>("/projects", form);
    },
    onSuccess: ({ id }) => go(`/projects/${id}`),
    onError: (error: Error) => {
      tell(error.message);
      onClose();
    },
  });
  useEffect(() => mutate(), [mutate]);
  return null;
}
