import type { ReactNode } from "react";
import { Group, Panel, Separator, type PanelImperativeHandle } from "react-resizable-panels";
import { useRef } from "react";

import { LIST_PX, PANEL_PX, usePanes } from "../../state/panes";

interface Props {
  model: ReactNode;
  /** The line under the model. */
  line: ReactNode;
  panel: ReactNode;
  list: ReactNode;
}

const BAR = "bg-ink/60 transition-colors hover:bg-hand data-[separator=active]:bg-hand";

/** The model with the panel beside it and a list below; their sizes are dragged and kept, a double click resets them. */
export function Panes({ model, line, panel, list }: Props) {
  const panelOpen = usePanes((s) => s.panelOpen);
  const listOpen = usePanes((s) => s.list !== null);
  const beside = useRef<PanelImperativeHandle>(null);
  const below = useRef<PanelImperativeHandle>(null);
  // Read once: from then on the panes keep their own size.
  const { panelPx, listPx } = useRef(usePanes.getState()).current;
  const keep = () => {
    const sizes = { panelPx: beside.current?.getSize().inPixels, listPx: below.current?.getSize().inPixels };
    usePanes.setState(Object.fromEntries(Object.entries(sizes).filter(([, px]) => px !== undefined)));
  };
  return (
    <Group
      orientation="vertical"
      className="min-h-0 flex-1"
      onLayoutChanged={(_, { isUserInteraction }) => isUserInteraction && keep()}
    >
      <Panel id="upper" minSize={180} className="flex flex-col">
        <Group
          orientation="horizontal"
          className="min-h-0 flex-1"
          onLayoutChanged={(_, { isUserInteraction }) => isUserInteraction && keep()}
        >
          <Panel id="model" minSize={260}>
            {model}
          </Panel>
          {panelOpen && (
            <>
              <Separator
                className={`w-px ${BAR}`}
                aria-label="Width of the panel"
                disableDoubleClick
                onDoubleClick={() => {
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
          <Separator
            className={`h-px ${BAR}`}
            aria-label="Height of the list"
            disableDoubleClick
            onDoubleClick={() => {
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
