import type { ReactNode } from "react";
import { Group, Panel, Separator, type LayoutChangedMeta, type PanelImperativeHandle } from "react-resizable-panels";
import { useRef } from "react";

import { LIST_PX, PANEL_PX, usePanes } from "../../state/panes";

interface Props {
  model: ReactNode;
  flat: ReactNode;
  /** The line under the model. */
  line: ReactNode;
  panel: ReactNode;
  list: ReactNode;
}

/** The model with the panel beside it and a list below; their sizes are dragged and kept, a double click resets them. */
export function Panes({ model, flat, line, panel, list }: Props) {
  const panelOpen = usePanes((s) => s.panelOpen);
  const listOpen = usePanes((s) => s.list !== null);
  const flatAt = usePanes((s) => s.flat);
  const sheet = useRef<PanelImperativeHandle>(null);
  const beside = useRef<PanelImperativeHandle>(null);
  const below = useRef<PanelImperativeHandle>(null);
  // Read once: from then on the panes keep their own size.
  const { panelPx, listPx } = useRef(usePanes.getState()).current;
  const keep = (_: unknown, { isUserInteraction }: LayoutChangedMeta) => {
    if (!isUserInteraction) return;
    const sizes = { panelPx: beside.current?.getSize().inPixels, listPx: below.current?.getSize().inPixels };
    usePanes.setState(Object.fromEntries(Object.entries(sizes).filter(([, px]) => px !== undefined)));
  };
  return (
    <Group orientation="vertical" className="min-h-0 flex-1" onLayoutChanged={keep}>
      <Panel id="upper" minSize={180} className="flex flex-col">
        <Group orientation="horizontal" className="min-h-0 flex-1" onLayoutChanged={keep}>
          <Panel id="model" minSize={260} className="relative">
            {model}
            {flatAt === "instead" && <div className="absolute inset-0 z-10">{flat}</div>}
          </Panel>
          {flatAt === "beside" && (
            <>
              <Bar label="Width of the flat view" className="w-px" onReset={() => sheet.current?.resize("37%")} />
              <Panel id="flat" panelRef={sheet} defaultSize="37%" minSize={260}>
                {flat}
              </Panel>
            </>
          )}
          {panelOpen && (
            <>
              <Bar
                label="Width of the panel"
                className="w-px"
                onReset={() => {
                  beside.current?.resize(PANEL_PX);
                  usePanes.setState({ panelPx: PANEL_PX });
                }}
              />
              <Panel
                id="panel"
                panelRef={beside}
                defaultSize={panelPx}
                minSize={250}
                maxSize={560}
                groupResizeBehavior="preserve-pixel-size"
              >
                {panel}
              </Panel>
            </>
          )}
        </Group>
        {line}
      </Panel>
      {listOpen && (
        <>
          <Bar
            label="Height of the list"
            className="h-px"
            onReset={() => {
              below.current?.resize(LIST_PX);
              usePanes.setState({ listPx: LIST_PX });
            }}
          />
          <Panel id="list" panelRef={below} defaultSize={listPx} minSize={70} groupResizeBehavior="preserve-pixel-size">
            {list}
          </Panel>
        </>
      )}
    </Group>
  );
}

/** Between two panes: dragged to size them, pressed twice to have them as they were at first. */
function Bar({ label, className, onReset }: { label: string; className: string; onReset: () => void }) {
  return (
    <Separator
      className={`bg-ink/60 transition-colors hover:bg-hand data-[separator=active]:bg-hand ${className}`}
      aria-label={label}
      disableDoubleClick
      onDoubleClick={onReset}
    />
  );
}
