/** Labels for the case: as they will look, in which size, as a paper or on the label printer. */
import { plural, t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../app/api';
import { useMay } from '../app/session';
import { Panel } from './Panel';
import { Pick } from './Pick';
import { Trouble } from './Trouble';

const KEPT = 'barodex.label';

function Opened({ records, close }: { records: readonly number[]; close: () => void }) {
  const mayPrint = useMay('technician');
  const [size, setSize] = useState(localStorage.getItem(KEPT) ?? '');
  const [start, setStart] = useState(1);
  const known = useQuery({ queryKey: ['label-sizes'], queryFn: () => ask(client.GET('/api/labels/sizes')), staleTime: 0 });
  const chosen = known.data?.sizes.find((s) => s.name === size) ?? known.data?.sizes[0];
  const print = useMutation({ mutationFn: (name: string) => ask(client.POST('/api/labels', { body: { records: [...records], size: name } })) });
  if (!chosen || !known.data) return <Box sx={{ p: 3, minHeight: 260 }}>{known.error && <Trouble error={known.error} again={() => known.refetch()} />}</Box>;
  const address = `/api/labels?records=${records.join(',')}&size=${encodeURIComponent(chosen.name)}`;
  const sheet = chosen.on_a_page > 1;
  const choose = (name: string) => {
    setSize(name);
    setStart(1);
    print.reset();
    localStorage.setItem(KEPT, name); // the roll that is in the printer stays in it
  };
  return (
    <Box sx={{ p: 3, display: 'grid', gap: 2 }}>
      <Box sx={{ typography: 'h2' }}>{plural(records.length, { one: 'Label for the case', other: `${records.length} labels for the cases` })}</Box>
      <Box
        component="img"
        src={`${address}&as=png`}
        alt={t`The first label as it is printed`}
        sx={{ maxWidth: '100%', maxHeight: 260, justifySelf: 'start', border: 1, borderColor: 'divider', borderRadius: 1, bgcolor: 'common.white' }}
      />
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: sheet ? '1fr 1fr' : '1fr' } }}>
        <Pick label={t`Size`} value={chosen.name} options={known.data.sizes.map((s) => [s.name, s.name] as const)} onChange={choose} />
        {sheet && (
          <Pick
            label={t`First free place on the sheet`}
            value={String(start)}
            options={Array.from({ length: chosen.on_a_page }, (_, k) => [String(k + 1), `${k + 1}`] as const)}
            onChange={(n) => setStart(Number(n))}
            hint={t`so that a begun sheet is used up`}
          />
        )}
      </Box>
      <Box
        sx={{
          color: 'text.secondary',
        }}>{t`The code leads to the box wherever it is fitted then: by a phone's camera, or typed into Find. Clean and dry the spot, away from joints, vents and hot parts.`}</Box>
      {print.data && <Box role="status">{print.data.text}</Box>}
      <Trouble error={print.error} />
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {mayPrint && known.data.printer && !sheet && (
          <Button variant="contained" disabled={print.isPending} onClick={() => print.mutate(chosen.name)}>{t`Print on the label printer`}</Button>
        )}
        <Button variant="outlined" component="a" href={`${address}&start=${start}`} target="_blank">{t`Open as a paper`}</Button>
        <Button variant="text" onClick={close}>{t`Close`}</Button>
      </Box>
    </Box>
  );
}

export function Labels({ records, small = false }: { records: readonly number[]; small?: boolean }) {
  const [open, setOpen] = useState(false);
  if (!records.length) return null;
  return (
    <>
      <Button variant="outlined" size={small ? 'small' : 'medium'} onClick={() => setOpen(true)}>
        {plural(records.length, { one: 'Case label', other: 'Case labels' })}
      </Button>
      <Panel label={t`Case labels`} open={open} close={() => setOpen(false)} wide>
        {open && <Opened records={records} close={() => setOpen(false)} />}
      </Panel>
    </>
  );
}
