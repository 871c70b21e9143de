/** A body that is heated (or cooled) and loses to its surroundings, held between two temperatures. */
export class ThermostatBody {
  on = false;

  constructor(
    public celsius: number,
    private readonly options: {
      /** Watt-hours to move the body by one kelvin. */
      capacity: number;
      /** Watts lost per kelvin of difference to the surroundings. */
      loss: number;
      /** °C, where nothing else is said. */
      surroundings: number;
      /** Watts put in while on; negative for a cooler. */
      power: number;
      /** Half the switching difference in kelvin. */
      hysteresis: number;
    },
  ) {}

  /** Moves on by some seconds towards a set point; `allowed` is false while the power is away. */
  step(
    seconds: number,
    setPoint: number,
    allowed: boolean,
    { extraWatts = 0, surroundings = this.options.surroundings } = {},
  ): void {
    const { capacity, loss, power, hysteresis } = this.options;
    const heats = power > 0;
    const lowEdge = setPoint - hysteresis;
    const highEdge = setPoint + hysteresis;
    if (heats ? this.celsius < lowEdge : this.celsius > highEdge) this.on = true;
    if (heats ? this.celsius > highEdge : this.celsius < lowEdge) this.on = false;
    const input = this.on && allowed ? power : 0;
    const watts = input + extraWatts - loss * (this.celsius - surroundings);
    this.celsius += (watts * seconds) / 3600 / capacity;
  }
}
