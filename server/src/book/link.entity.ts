import type { LinkInput } from '@loka/contract/links';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';

@Entity('links')
export class LinkEntity implements Omit<LinkInput, 'password'> {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('varchar')
  kind!: LinkInput['kind'];

  @Column('varchar')
  host!: string;

  @Column('int')
  port!: number;

  @Column('int')
  timeoutMs!: number;

  @Column('boolean')
  enabled!: boolean;

  @Column('int')
  retries!: number;

  @Column('int')
  pauseMs!: number;

  @Column('int')
  maxWords!: number;

  @Column('varchar')
  path!: string;

  @Column('int')
  baudRate!: number;

  @Column('varchar')
  parity!: LinkInput['parity'];

  @Column('int')
  stopBits!: number;

  @Column('varchar')
  mqttVersion!: LinkInput['mqttVersion'];

  @Column('boolean')
  tls!: boolean;

  @Column('text')
  certificate!: string;

  @Column('varchar')
  user!: string;

  @Column('varchar')
  clientId!: string;

  /** Password of a broker, or digest of the token of a push link; never given out. */
  @Column('varchar', { nullable: true })
  secret!: string | null;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}
