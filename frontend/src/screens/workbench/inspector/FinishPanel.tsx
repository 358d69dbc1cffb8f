import type { Finish, Project } from "../../../api/wire.gen";
import { panelOf, projectionName } from "../../../projections/registry";
import { Section } from "../../../ui/Section";
import { useTurn } from "../picking/useTurn";
import { useChanging } from "./changing";
import { Adjustments } from "./Adjustments";
import { CoatsLines } from "./coats/CoatsLines";
import { DatumLines } from "./DatumLines";
import { FinishHead } from "./FinishHead";
import { GrainLines } from "./GrainLines";
import { LaidOnLines } from "./LaidOnLines";
import { MaterialLines } from "./MaterialLines";
import { Measured } from "./Measured";
import { ProjectionChoice } from "./ProjectionChoice";
import { SetOutLines } from "./SetOutLines";
import { SheetLines } from "./SheetLines";
import { TieLines } from "./TieLines";

interface Props {
  project: Project;
  finishes: Finish[];
}

/** The finish in hand, or several that are changed alike; figures that differ show as “various”. */
export function FinishPanel({ project, finishes }: Props) {
  const changing = useChanging(
    project.id,
    finishes.map((f) => f.key),
  );
  const turn = useTurn(project);
  const only = finishes.length === 1 ? finishes[0]! : null;
  const byFace = finishes.every((f) => panelOf(f.projection.kind).byFace);
  const first = finishes[0]!;
  return (
    <section aria-label="Finish">
      <FinishHead project={project} finishes={finishes} />
      {only && (
        <Section title="Measured">
          <Measured project={project} finish={only} />
        </Section>
      )}
      <Section title="Laid on" brief={only?.pick_words}>
        <LaidOnLines project={project} finishes={finishes} now={changing.now} />
      </Section>
      <Section title="Material" brief={project.materials[first.material]?.name}>
        <MaterialLines project={project} finishes={finishes} {...changing} />
      </Section>
      {only && (
        <Section title="Coats" brief={only.coats.length ? String(only.coats.length) : undefined}>
          <CoatsLines project={project} finish={only} />
        </Section>
      )}
      <Section title="Projection" brief={projectionName(first.projection)}>
        <ProjectionChoice project={project} finishes={finishes} {...changing} />
      </Section>
      <Section title="Sheet">
        <SheetLines finishes={finishes} turn={turn} {...changing} />
      </Section>
      {byFace && (
        <Section title="Grain">
          <GrainLines project={project} finishes={finishes} {...changing} />
        </Section>
      )}
      {only && only.adjust.length > 0 && (
        <Section title="Sides that lie otherwise" brief={String(only.adjust.length)}>
          <Adjustments project={project} finish={only} />
        </Section>
      )}
      {byFace && only && (
        <Section title="Tied" brief={only.tie.length ? String(only.tie.length) : undefined}>
          <TieLines project={project} finish={only} now={changing.now} />
        </Section>
      )}
      {byFace && (
        <Section title="Set-out">
          <SetOutLines project={project} finishes={finishes} now={changing.now} />
        </Section>
      )}
      {only && panelOf(only.projection.kind).hasDatum && (
        <Section title="Datum">
          <DatumLines project={project} finish={only} {...changing} />
        </Section>
      )}
    </section>
  );
}
