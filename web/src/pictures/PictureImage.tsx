import type { Picture } from '@loka/contract/pictures';
import { useEffect, useState, type CSSProperties } from 'react';
import { pictureUrl } from './pictureFile.js';

/** After so long it is tried again, ms: the server may have been away. */
const AGAIN = 10_000;

/** An uploaded picture; while it cannot be fetched it says so, and tries again. */
export function PictureImage({
  picture,
  className,
  style,
  drawing,
  alt = '',
}: {
  picture: Picture;
  className: string | undefined;
  style?: CSSProperties;
  /** Drawn for a white ground. */
  drawing?: boolean;
  alt?: string;
}) {
  const [broken, setBroken] = useState(false);
  useEffect(() => {
    if (!broken) return;
    const timer = setTimeout(() => setBroken(false), AGAIN);
    return () => clearTimeout(timer);
  }, [broken]);
  if (broken) return <p className="muted">The picture “{picture.name}” could not be fetched.</p>;
  return (
    <img
      className={className}
      style={style}
      src={pictureUrl(picture)}
      alt={alt}
      draggable={false}
      data-drawing={drawing}
      onError={() => setBroken(true)}
    />
  );
}
