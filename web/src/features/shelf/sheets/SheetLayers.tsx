/** What of a sheet is not needed at once, folded by group. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { date } from '../../../app/session';
import { isDay } from '../../../ui/DateField';
import { Day, Line, OneOf, pairs } from '../../../ui/form/fields';
import { Layer } from '../../../ui/Layer';
import { FigureFields } from './FigureFields';
import { GROUPS, type GroupKey, ROWS, type RowKey, rowsSaid, saidOf, shown, wrongIn } from './layers';
import { AmbientRows, KitRows, MarkRows, VariantRows } from './SheetRows';
import type { SheetDraft, Words } from './sheetDraft';

type Props = { d: SheetDraft; words: Words; named: string[] };

function Sources({ words }: { words: Words }) {
  const { sources, trusts, backed } = words.sheet;
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr 1fr', md: 'repeat(4, 1fr)' } }}>
      {backed.map((of) => (
        <Box key={of} sx={{ display: 'grid' }}>
          <OneOf<SheetDraft>
            name={`sources.${of}.source`}
            label={t`${(of[0] ?? '').toUpperCase()}${of.slice(1)} from`}
            empty={t`not stated`}
            options={pairs(sources)}
          />
          <OneOf<SheetDraft> name={`sources.${of}.trust`} label={t`It is`} options={pairs(trusts)} />
        </Box>
      ))}
    </Box>
  );
}

export function SheetLayers({ d, words, named }: Props) {
  const group = (key: GroupKey) => {
    const figures = shown(d, words).filter((f) => f.group === key);
    const since = key === 'interval' && isDay(d.effective_on) ? [t`in force from ${date(d.effective_on)}`] : [];
    const fields = [...figures.map((f) => f.name), ...(key === 'interval' ? ['effective_on'] : [])];
    return (
      <Layer key={key} title={GROUPS[key]} said={[...saidOf(key, d, words), ...since]} wrong={wrongIn(fields, named)}>
        <FigureFields figures={figures} />
        {key === 'interval' && (
          <Box sx={{ maxWidth: 360 }}>
            <Day<SheetDraft> name="effective_on" label={t`In force from`} hint={t`empty: today`} />
          </Box>
        )}
      </Layer>
    );
  };
  const rows = (key: RowKey, fields: string[] = [key]) => ({
    title: ROWS[key],
    said: key === 'kit' ? [...saidOf('kit', d, words), ...rowsSaid(key, d)] : rowsSaid(key, d),
    wrong: wrongIn(fields, named),
  });
  return (
    <>
      {(['oil more', 'inside', 'level', 'interval'] as const).map(group)}
      <Layer {...rows('ambient')}>
        <AmbientRows />
      </Layer>
      <Layer {...rows('variants')}>
        <VariantRows drives={pairs(words.sheet.drives)} plugs={d.plugs.map((p) => p.label)} />
      </Layer>
      <Layer {...rows('casing_marks')}>
        <MarkRows />
      </Layer>
      <Layer {...rows('kit', ['kit', 'hose'])}>
        <FigureFields figures={shown(d, words).filter((f) => f.group === 'kit')} />
        <KitRows />
      </Layer>
      <Layer {...rows('sources')}>
        <Sources words={words} />
      </Layer>
      {group('cautions')}
    </>
  );
}

export const Reason = () => <Line<SheetDraft> name="reason" label={t`Why it changes`} hint={t`goes on the sheet with the date`} most={200} />;
