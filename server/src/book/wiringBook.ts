import { Injectable } from '@nestjs/common';

/** What is known to be wrong with a place's wiring. */
export interface WiringFault {
  /** In words. */
  says: string;
  since: number;
}

/** What verification has found at each place, kept in memory because every list of the installation asks for it. */
@Injectable()
export class WiringBook {
  private readonly faults = new Map<number, WiringFault>();
  private readonly proven = new Set<number>();

  fault(nodeId: number): WiringFault | null {
    return this.faults.get(nodeId) ?? null;
  }

  /** Whether somebody has proved the wiring right, and nothing speaks against it since. */
  isVerified(nodeId: number): boolean {
    return this.proven.has(nodeId) && !this.faults.has(nodeId);
  }

  setFault(nodeId: number, fault: WiringFault | null): void {
    if (fault) this.faults.set(nodeId, fault);
    else this.faults.delete(nodeId);
  }

  setProven(nodeId: number, proven: boolean): void {
    if (proven) this.proven.add(nodeId);
    else this.proven.delete(nodeId);
  }

  withFaults(): [number, WiringFault][] {
    return [...this.faults];
  }
}
