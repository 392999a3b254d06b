/** What the store and the shelf lack for a visit, and what is done about it. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { Section } from '../../../ui/Page';
import { There } from '../../../ui/There';
import { Words } from '../../../ui/Words';

export function Kit({ lines, there, change }: { lines: Schemas['KitLine'][]; there: string[]; change: (names: string[]) => void }) {
  if (!lines.length) return null;
  const missing = lines.filter((l) => l.item.mandatory);
  return (
    <Section title={t`Not in the store`}>
      <Box sx={{ borderLeft: 6, borderColor: missing.length ? 'error.main' : 'divider', pl: 1.5, display: 'grid' }}>
        {lines.map((l) => (
          <FormControlLabel
            key={l.item.name}
            control={
              <Checkbox
                checked={there.includes(l.item.name)}
                onChange={(e) => change(e.target.checked ? [...there, l.item.name] : there.filter((n) => n !== l.item.name))}
              />
            }
            label={
              <span>
                <Trans>
                  {l.item.count} × <b>{l.item.name}</b>, {l.in_store ?? 0} counted ({l.item.use}){l.item.mandatory ? '' : t`, if wanted`}: it is in my hand all
                  the same
                </Trans>
              </span>
            }
          />
        ))}
        {missing.length > 0 && <Box sx={{ color: 'text.secondary' }}>{t`A missing seal or tool stops the start, not the middle.`}</Box>}
      </Box>
    </Section>
  );
}

/** Oil of which the shelf holds too little for the visit and for what is open beside it. */
export function OilShort(p: {
  lines: Schemas['OilShort'][];
  there: string[];
  change: (names: string[]) => void;
  fetches: string;
  setFetches: (name: string) => void;
  problem: string;
}) {
  const { show } = useShow();
  if (!p.lines.length) return null;
  const open = p.lines.filter((l) => !p.there.includes(l.name));
  return (
    <Section title={t`Not oil enough`}>
      <Box sx={{ borderLeft: 6, borderColor: open.length ? 'error.main' : 'divider', pl: 1.5, display: 'grid', gap: 1 }}>
        {p.lines.map((l) => (
          <FormControlLabel
            key={l.lubricant}
            control={
              <Checkbox
                checked={p.there.includes(l.name)}
                onChange={(e) => p.change(e.target.checked ? [...p.there, l.name] : p.there.filter((n) => n !== l.name))}
              />
            }
            label={
              <span>
                <Trans>
                  <b>{l.name}</b>: {show(l.on_hand_ml, 'volume')} of {show(l.need_ml, 'volume')} on the shelf and free: the rest is here all the same (
                  <There to={`/shelf?stock=${l.lubricant}`} from={t`the start`}>
                    put it on the shelf
                  </There>
                  )
                </Trans>
              </span>
            }
          />
        ))}
        {open.length > 0 && (
          <Words
            label={t`Or who fetches it`}
            value={p.fetches}
            onChange={p.setFetches}
            problem={p.problem}
            most={60}
            hint={t`the drain stays locked until it is there`}
          />
        )}
      </Box>
    </Section>
  );
}
