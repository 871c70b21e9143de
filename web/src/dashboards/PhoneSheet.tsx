import { phoneLines, type DashboardContent } from '@loka/core/dashboards';
import { useId, useState } from 'react';
import { ElementView } from './elements/ElementView.js';
import styles from './PhoneSheet.module.css';

/** A dashboard as it is arranged for a phone: from top to bottom, and what is put away below a fold. */
export function PhoneSheet({ content }: { content: DashboardContent }) {
  const [open, setOpen] = useState(false);
  const fold = useId();
  const byId = new Map(content.elements.map((e) => [e.id, e]));
  const view = (id: string, half: boolean) => {
    const element = byId.get(id);
    return (
      element && (
        <div key={id} className={styles.place} data-half={half} data-kind={element.kind}>
          <ElementView element={element} />
        </div>
      )
    );
  };
  return (
    <div className={styles.sheet}>
      {phoneLines(content.phone.shown).map((line) => (
        <div key={line.map((p) => p.id).join(' ')} className={styles.line}>
          {line.map(({ id, half }) => view(id, half))}
        </div>
      ))}
      {content.phone.away.length > 0 && (
        <>
          <button
            type="button"
            className={styles.fold}
            aria-expanded={open}
            aria-controls={fold}
            onClick={() => setOpen(!open)}
          >
            {open ? '▾' : '▸'} Archived, {content.phone.away.length}
          </button>
          <div id={fold} hidden={!open}>
            {open &&
              content.phone.away.map((id) => (
                <div key={id} className={styles.line}>
                  {view(id, false)}
                </div>
              ))}
          </div>
        </>
      )}
    </div>
  );
}
