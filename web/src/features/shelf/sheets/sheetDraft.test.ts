import { describe, expect, it } from 'vitest';
import declared from '../../../../../tests/fixtures/declared.json';
import words from '../../../../../tests/fixtures/words.json';
import type { Schemas } from '../../../app/api';
import { keep, keptBefore } from '../../../ui/form/useTyped';
import { blankSheet, draftOfSheet, exact, figuresRequest, SHEET } from './sheetDraft';

const WORDS = { sheet: declared, kinds: words.kinds };
const blank = () => blankSheet(WORDS);

describe('a sheet being written', () => {
  it('sends what was typed as it was typed, and empty as unknown', () => {
    const typed = { capacity_ml: '2,3 L', yellow_metal: 'yes', interval_months: '', drain_minutes: '7,5', cautions: 'one\n\n two ', exchange_cycles: '' };
    const request = figuresRequest({ ...blank(), figures: { ...blank().figures, ...typed } }, WORDS);
    expect(request.capacity_ml).toBe('2,3 L');
    expect(request.yellow_metal).toBe(true);
    expect(request.limited_slip).toBeNull();
    expect(request.interval_months).toBeNull();
    expect(request.drain_minutes).toBe(7.5);
    expect(request.exchange_cycles).toBe(1);
    expect(request.cautions).toEqual(['one', 'two']);
    expect(request.plugs.map((p) => p.role)).toEqual(['fill', 'drain']);
  });

  it('states no source that nobody chose', () => {
    expect(figuresRequest(blank(), WORDS).sources).toEqual([]);
    const chosen = { ...blank(), sources: { ...blank().sources, oil: { source: 'plate', trust: 'verified', note: '' } } };
    expect(figuresRequest(chosen, WORDS).sources).toEqual([{ figure: 'oil', source: 'plate', trust: 'verified', note: '' }]);
  });

  it('leaves aside what was kept in another shape, and keeps the rest', () => {
    const half = { ...blank(), name: 'Half' };
    keep('k', blank(), half);
    expect(keptBefore('k', SHEET, blank())).toEqual(half);
    expect(keptBefore('k', SHEET, { ...blank(), kind: 'axle' })).toEqual({ ...blank(), kind: 'axle' }); // it began from another
    keep('k', blank() as object, { ...half, plugs: 'nonsense' });
    expect(keptBefore('k', SHEET, blank())).toEqual(blank());
    sessionStorage.setItem('k', '{');
    expect(keptBefore('k', SHEET, blank())).toEqual(blank());
  });

  it('goes from a revision to a draft and back without losing a figure', () => {
    const revision = {
      id: 1,
      number: 2,
      effective_on: '2026-01-01',
      reason: '',
      capacity_ml: 1850,
      family: 'gear',
      grade: '75W-80',
      categories: 'GL-4',
      hypoid: false,
      yellow_metal: true,
      limited_slip: null,
      fill_method: 'measured',
      drain_method: 'plug',
      case_material: 'aluminium',
      drain_minutes: 25,
      warm_up: false,
      level_note: 'n',
      cautions: ['c'],
      interval_km: 60000,
      interval_h: null,
      interval_months: 48,
      total_ml: 2400,
      residual_ml: null,
      rinse_ml: null,
      surplus_ml: null,
      exchange_cycles: 2,
      modifier_ml: null,
      also: ['atf'],
      approvals: ['A 1', 'B 2'],
      ambient: [{ grade: 'SAE 80', min_c: null, max_c: 0 }],
      base: 'synthetic',
      no_ep: false,
      wet_clutch: false,
      synchro: true,
      non_detergent: false,
      variants: [
        {
          name: 'short',
          mark: 'R2',
          capacity_ml: 1700,
          grade: '',
          categories: '',
          heads: [{ plug: 'drain plug', drive: 'square', size_mm: 17, torque_nm: 28 }],
        },
      ],
      casing_marks: [{ where: 'pad', reads: 'R1', tells: 'long' }],
      kit: [{ name: 'gasket', kind: 'seal', count: 2, mandatory: false, use: 'cover' }],
      hose: '10 mm',
      window_low_c: 40,
      window_high_c: 45,
      level_engine: 'running',
      selector: 'P',
      thermostat_c: null,
      below_lip_mm: 20,
      flush_ml: null,
      resets: ['wear counter'],
      plugs: [{ role: 'drain', label: 'drain plug', drive: 'square', size_mm: 14, seal: 'O-ring', torque_nm: 43, magnet: true }],
      sources: [{ figure: 'torque', source: 'guess', trust: 'guessed', note: 'n 1', by: '', at: '' }],
      written_by: '',
      written_at: '',
    } as Schemas['RevisionView'];
    const sheet = { id: 1, name: 's', kind: 'manual gearbox', revisions: [revision], compartments: [] } as Schemas['SheetView'];
    const request = figuresRequest(draftOfSheet(sheet, WORDS), WORDS);
    expect(request).toMatchObject({
      capacity_ml: '1850 mL',
      yellow_metal: true,
      limited_slip: null,
      fill_method: 'measured',
      case_material: 'aluminium',
      drain_minutes: 25,
      interval_km: '60000 km',
      interval_h: '',
      interval_months: 48,
      warm_up: false,
      total_ml: '2400 mL',
      exchange_cycles: 2,
      also: ['atf'],
      approvals: ['A 1', 'B 2'],
      ambient: [{ grade: 'SAE 80', min_c: '', max_c: '0 °C' }],
      base: 'synthetic',
      synchro: true,
      variants: [
        { name: 'short', mark: 'R2', capacity_ml: '1700 mL', heads: [{ plug: 'drain plug', drive: 'square', size_mm: '17 mm', torque_nm: '28 N·m' }] },
      ],
      casing_marks: [{ where: 'pad', reads: 'R1', tells: 'long' }],
      kit: [{ name: 'gasket', kind: 'seal', count: 2, mandatory: false, use: 'cover' }],
      hose: '10 mm',
      window_low_c: '40 °C',
      window_high_c: '45 °C',
      level_engine: 'running',
      selector: 'P',
      thermostat_c: '',
      below_lip_mm: '20 mm',
      resets: ['wear counter'],
    });
    expect(request.plugs[0]).toMatchObject({ drive: 'square', size_mm: '14 mm', seal: 'O-ring', torque_nm: '43 N·m', magnet: true });
    expect(request.sources.find((s) => s.figure === 'torque')).toMatchObject({ source: 'guess', trust: 'guessed', note: 'n 1' });
  });

  it('writes an amount exactly, in its own unit whoever reads it, and never in two meanings', () => {
    expect(exact(1850, 'mL')).toBe('1850 mL');
    expect(exact(473.176473, 'mL')).toBe('473.176473 mL');
    expect(exact(36.607, 'N·m')).toBe('36.6070 N·m');
    expect(exact(-12.5, '°C')).toBe('-12.5 °C');
    expect(exact(null, 'mm')).toBe('');
  });
});
