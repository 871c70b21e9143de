import type { DashboardElement } from '@loka/core/dashboards';
import { useLayoutEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useBalance } from '../../api/useApi.js';
import { FlowDrawing } from '../../balance/FlowDrawing.js';
import { FlowPhone } from '../../balance/FlowPhone.js';
import { stepOf } from '../../balance/stepOf.js';
import { useFlows, type FlowMode } from '../../balance/useFlows.js';
import { useFacts } from '../facts.js';
import type { Shown } from '../shown.js';
import styles from './elements.module.css';
import { useSpan } from './useSpan.js';

const ENERGY: FlowMode = { kind: 'energy' };
/** Narrower than this it runs from top to bottom. */
const NARROW = 780;

/** Sources, uses and what nobody meters. */
export default function FlowElement({ element, shown }: { element: DashboardElement; shown: Shown }) {
  const { nodes } = useFacts();
  const { span, words } = useSpan(element.span);
  const { data } = useBalance(span.start, span.end, stepOf(span));
  const { picture, unit } = useFlows(nodes, shown.node?.id ?? 0, ENERGY, data);
  const navigate = useNavigate();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const watcher = new ResizeObserver(() => setWidth(element.clientWidth));
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);
  const open = (id: number) => void navigate(`/board?at=${id}`);
  const common = { nodes, unit, width, beside: null, onOpen: open };
  return (
    <div ref={box} className={styles.scroll}>
      <p className={styles.legend}>{words}</p>
      {data && !picture && <p className="muted">Nothing was metered here then.</p>}
      {picture &&
        width > 0 &&
        (width < NARROW ? (
          <FlowPhone {...common} picture={picture} />
        ) : (
          <FlowDrawing {...common} picture={picture} subject={`${shown.node?.id} ${element.span}`} />
        ))}
    </div>
  );
}
