import {
  appliedGain,
  appliedRatio,
  movesReadings,
  settingState,
  type AppliedRatio,
} from '../../settings/index.js';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Look, SettingSeen, SettingsSeen } from '../circuit.js';
import type { Fault } from '../faults.js';
import { listed } from '../words.js';

/**
 * What is set inside the device: as it is wanted, and no ratio or gain applied both there and in Loka. Null where the device
 * has no settings that can be read.
 */
export function checkSettings({ settings, circuit }: Look): { check: Check; fault: Fault | null } | null {
  if (!settings || settings.set.length === 0) return null;
  const read = settings.set.filter(isRead);
  if (read.length === 0)
    return {
      check: cannotTell(
        'settings',
        'What is set in the device has not been read.',
        'Read its settings in Field.',
      ),
      fault: null,
    };
  const ratio =
    settings.sensing &&
    appliedRatio(
      read.map(({ role, read: value }) => ({ role, value })),
      settings.sensing,
    );
  const wrongRatio = ratio && ratioCheck(ratio, settings.sensing?.ratedCurrent ?? null);
  if (wrongRatio?.verdict === 'fail')
    return {
      check: wrongRatio,
      fault:
        ratio?.factor == null
          ? null
          : { kind: 'wrong-ratio', lines: circuit.lines, factor: ratio.factor, exact: true },
    };
  const check = gainCheck(settings) ?? wantedCheck(read) ?? wrongRatio ?? allRight(read, ratio);
  return { check, fault: null };
}

type Read = SettingSeen & { read: number };

const isRead = (seen: SettingSeen): seen is Read => seen.read !== null;

function ratioCheck({ where, factor, inDevice, inLoka }: AppliedRatio, rated: number | null): Check | null {
  const times = factor === null ? '' : show(factor);
  const rests = [
    inDevice === null ? '' : `${show(inDevice)} in the device`,
    `${show(inLoka)} in Loka`,
    rated === null ? '' : `${show(rated)} A printed on the transformer`,
  ]
    .filter((part) => part !== '')
    .join(', ');
  switch (where) {
    case 'once':
      return null;
    case 'twice':
      return fail(
        'settings',
        `The transformer’s ratio is applied twice: it reads ${times} times what flows.`,
        rests,
        'It is set in the device and in Loka.',
        'Leave it in one of them: set Loka’s ratio to 1, or the device’s to its secondary current.',
      );
    case 'nowhere':
      return fail(
        'settings',
        `The transformer’s ratio is applied nowhere: it reads ${times} times what flows.`,
        rests,
        'The device takes what comes from the transformer for the current itself.',
        'Set the primary current in the device, or the ratio in Loka.',
      );
    case 'off':
      return fail(
        'settings',
        `The ratios do not fit the transformer: it reads ${times} times what flows.`,
        rests,
        'The device is set for another transformer, or for one where there is none.',
        'Look at the transformer’s plate, and set the device for it.',
      );
    case 'cannot-tell':
      return cannotTell(
        'settings',
        'Both the device and Loka apply a ratio.',
        'Enter in Loka the current printed on the transformer.',
        rests,
      );
  }
}

function gainCheck({ set, gains }: SettingsSeen): Check | null {
  for (const { name, phase, read, before, changedAt, role } of set) {
    if (read === null || !role.endsWith('-gain')) continue;
    const quantity =
      role === 'current-gain' ? 'current' : role === 'voltage-gain' ? 'voltage' : 'active-power';
    for (const gain of gains) {
      if (gain.quantity !== quantity || (phase !== null && gain.phase !== null && gain.phase !== phase))
        continue;
      const { where, factor } = appliedGain(read, { before, changedAt }, gain.gain, gain.at);
      if (where === 'once') continue;
      const rests = `${show(read)} in the device, ${show(gain.gain)} in Loka (${gain.name})`;
      return where === 'twice'
        ? fail(
            'settings',
            `“${name}” corrects what Loka corrects as well: it reads ${show(factor)} times what it should.`,
            rests,
            'A gain that was found here has been written into the device, and is still applied in Loka.',
            'Leave it in one of them: set the device’s gain back, or undo Loka’s calibration.',
          )
        : fail(
            'settings',
            `“${name}” was changed after Loka had been calibrated: it reads ${show(factor)} times what it should.`,
            rests,
            'The calibration in Loka holds for the gain that the device had.',
            'Set the gain back, or calibrate again.',
          );
    }
  }
  return null;
}

function wantedCheck(read: readonly Read[]): Check | null {
  const differing = read.filter((s) => settingState(s.read, s.wanted, s.step) === 'differs');
  if (differing.length === 0) return null;
  const [first] = differing as [Read];
  const says =
    differing.length === 1
      ? `“${first.name}” is ${valueOf(first, first.read)} in the device and wanted ${valueOf(first, first.wanted as number)}.`
      : `${differing.length} settings in the device are not as wanted: ${listed(differing.map((s) => `“${s.name}”`))}.`;
  // An interval that is another makes no reading wrong.
  if (!differing.some((s) => movesReadings(s.role)))
    return cannotTell(
      'settings',
      says,
      'Write what is wanted, or take over what is there.',
      `${read.length} settings read`,
    );
  return fail(
    'settings',
    says,
    differing
      .map((s) => `${s.name} ${valueOf(s, s.read)}, wanted ${valueOf(s, s.wanted as number)}`)
      .join('; '),
    'Someone has changed it at the device, or it has been exchanged or reset.',
    'Write what is wanted, or take over what is there.',
  );
}

function allRight(read: readonly Read[], ratio: AppliedRatio | null): Check {
  const wanted = read.filter((s) => s.wanted !== null).length;
  const once = ratio?.inDevice != null && ratio.where === 'once' ? ', the ratio applied once' : '';
  if (wanted === 0 && once === '')
    return cannotTell(
      'settings',
      'What is set in the device has been read; no wanted values are entered.',
      'Enter in Field which settings are wanted.',
      `${read.length} settings read`,
    );
  return pass(
    'settings',
    `The device is set as wanted${once}.`,
    `${read.length} settings read, ${wanted} with a wanted value`,
  );
}

const valueOf = ({ names, unit }: SettingSeen, value: number): string =>
  names?.find((n) => n.value === value)?.name ?? `${show(value)} ${unit}`.trim();

const show = (value: number): string => String(Number(value.toPrecision(4)));
