import { PICTURE_LIMITS, type Picture } from '@loka/contract/pictures';
import Button from '@mui/material/Button';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import { mutate } from 'swr';
import { api, inWords } from '../api/client.js';
import { usePictures } from '../api/useApi.js';
import { Confirm } from '../shared/Confirm.js';
import { useNotices } from '../shared/notices.js';
import { ACCEPTED, faultOf, pictureUrl, sendPicture } from './pictureFile.js';
import styles from './PictureList.module.css';

interface Sending {
  name: string;
  share: number;
  stop: AbortController;
}

/** The uploaded pictures, to choose one, upload another, or take one off. */
export function PictureList({
  chosen,
  onPick,
}: {
  chosen: number | null;
  onPick: (picture: Picture) => void;
}) {
  const { data: pictures } = usePictures();
  const [sending, setSending] = useState<Sending | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [removing, setRemoving] = useState<Picture | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const stop = useRef<AbortController | null>(null);
  const { attempt } = useNotices();
  // Whoever closes the list does not wait for it.
  useEffect(() => () => stop.current?.abort(), []);

  const send = async (file: File) => {
    const wrong = faultOf(file);
    setFault(wrong);
    if (wrong !== null) return;
    const own = new AbortController();
    stop.current = own;
    const told = { name: file.name, stop: own };
    setSending({ ...told, share: 0 });
    try {
      const picture = await sendPicture(file, (share) => setSending({ ...told, share }), own.signal);
      await mutate('/pictures');
      onPick(picture);
    } catch (error) {
      if (!own.signal.aborted) setFault(inWords(error));
    } finally {
      setSending(null);
    }
  };
  const drop = (event: DragEvent) => {
    const [file] = event.dataTransfer.files;
    if (!file) return;
    event.preventDefault();
    // One after the other.
    if (!sending) void send(file);
  };
  const remove = ({ id }: Picture) =>
    void attempt(async () => {
      await api(`/pictures/${id}`, 'DELETE');
      await mutate('/pictures');
    });
  return (
    <div
      className={styles.pictures}
      role="group"
      aria-label="Pictures"
      onDragOver={(e) => e.dataTransfer.types.includes('Files') && e.preventDefault()}
      onDrop={drop}
    >
      {sending ? (
        <p className={styles.sending} role="status">
          <progress value={sending.share} aria-label="Sent" />
          {sending.share < 1 ? `Sending ${sending.name} …` : `Looking at ${sending.name} …`}
          <Button onClick={() => sending.stop.abort()}>Cancel</Button>
        </p>
      ) : (
        <p className={styles.new}>
          <Button variant="outlined" onClick={() => input.current?.click()}>
            Upload a picture
          </Button>
          <small className="muted">Or drop it here. {PICTURE_LIMITS}</small>
        </p>
      )}
      <input
        ref={input}
        type="file"
        accept={ACCEPTED}
        aria-label="File with a picture"
        className={styles.file}
        tabIndex={-1}
        onChange={(e) => {
          const file = e.target.files?.[0];
          // The same file can be tried once more.
          e.target.value = '';
          if (file) void send(file);
        }}
      />
      {fault && (
        <p role="alert" className="danger">
          {fault}
        </p>
      )}
      <ul className={styles.list}>
        {pictures?.map((picture) => (
          <li key={picture.id}>
            <button
              type="button"
              className={styles.one}
              aria-pressed={picture.id === chosen}
              onClick={() => onPick(picture)}
            >
              <img src={pictureUrl(picture)} alt="" loading="lazy" />
              <span>{picture.name}</span>
            </button>
            <button
              type="button"
              className={styles.off}
              aria-label={`Remove ${picture.name}`}
              onClick={() => setRemoving(picture)}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      {pictures?.length === 0 && !sending && <p className="muted">No picture has been uploaded yet.</p>}
      {removing && (
        <Confirm
          title={`Remove “${removing.name}”?`}
          verb="Remove it"
          danger
          onConfirm={() => remove(removing)}
          onClose={() => setRemoving(null)}
        >
          It cannot be brought back; it would have to be uploaded again. While a plan or a dashboard shows it,
          it stays.
        </Confirm>
      )}
    </div>
  );
}
