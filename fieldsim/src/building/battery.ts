/** The house battery: 15 kWh, 5 kW, at about 52 V. */
const CAPACITY = 15_000;
const MOST_WATTS = 5_000;
const ONE_WAY = 0.96;
const CALM = 60;

export class Battery {
  /** Wh in it. */
  private stored = 0.45 * CAPACITY;
  /** Share of it that is kept for an outage. */
  reserve = 0.1;
  /** W at its terminals: positive while it discharges. */
  watts = 0;

  /** Takes what is left over, gives what is missing. @param surplus W that would go into the grid; negative what would be taken */
  step(surplus: number, seconds: number): void {
    const hours = seconds / 3600;
    const room = hours > 0 ? (CAPACITY - this.stored) / hours / ONE_WAY : 0;
    const left = hours > 0 ? (Math.max(0, this.stored - this.reserve * CAPACITY) / hours) * ONE_WAY : 0;
    if (surplus > CALM) this.watts = -Math.min(surplus, MOST_WATTS, room);
    else if (surplus < -CALM) this.watts = Math.min(-surplus, MOST_WATTS, left);
    else this.watts = 0;
    this.stored -= this.watts > 0 ? (this.watts * hours) / ONE_WAY : this.watts * hours * ONE_WAY;
  }

  /** State of charge, %. */
  get charge(): number {
    return (this.stored / CAPACITY) * 100;
  }

  /** Voltage at its terminals, V. */
  get volts(): number {
    return 48 + 6 * (this.charge / 100) - this.watts / 4000;
  }
}
