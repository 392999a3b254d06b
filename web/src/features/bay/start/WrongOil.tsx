/** What went in by mistake: an oil of the list, one that this box has had, or free words. */
import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';

type Props = { label: string; value: string; change: (oil: string) => void; before?: string[]; problem?: string; hint?: string };

export function WrongOil({ label, value, change, before = [], problem = '', hint = '' }: Props) {
  const oils = useQuery({ queryKey: ['lubricants'], queryFn: () => ask(client.GET('/api/lubricants')) });
  return (
    <Autocomplete
      freeSolo
      openOnFocus
      options={[...new Set([...before, ...(oils.data ?? []).map((o) => o.name)])]}
      inputValue={value}
      onInputChange={(_, said) => change(said.slice(0, 80))}
      renderInput={(input) => <TextField {...input} label={label} error={Boolean(problem)} helperText={problem || hint || ' '} />}
    />
  );
}
