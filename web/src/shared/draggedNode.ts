/** A place of the installation that is drawn from the spine onto something that can show it. */
export const draggedNode = {
  type: 'application/x-loka-place',
  write(transfer: DataTransfer, nodeId: number): void {
    transfer.setData(this.type, String(nodeId));
    transfer.effectAllowed = 'copy';
  },
  /** @returns the place, or null where something else was dropped */
  read(transfer: DataTransfer): number | null {
    const id = Number(transfer.getData(this.type));
    return Number.isInteger(id) && id > 0 ? id : null;
  },
};
