import type { Picture } from '@loka/contract/pictures';
import { useState } from 'react';
import { pictureUrl } from '../../pictures/pictureFile.js';
import styles from './elements.module.css';

/** An uploaded picture, whole. */
export function PictureElement({ picture }: { picture: Picture }) {
  const [broken, setBroken] = useState(false);
  if (broken) return <p className={styles.gone}>The picture could not be fetched.</p>;
  return (
    <img
      className={styles.picture}
      src={pictureUrl(picture)}
      alt={picture.name}
      onError={() => setBroken(true)}
    />
  );
}
