/** A debris level as marks: none for clean, up to four; red for stop. */
import { useTheme } from '@mui/material/styles';

export function LevelMarks({ level }: { level: number | null }) {
  const { tones } = useTheme();
  return (
    <svg width={46} height={14} viewBox="0 0 46 14" aria-hidden="true">
      {[0, 1, 2, 3].map((k) => (
        <rect
          key={k}
          x={k * 12}
          y={1}
          width={9}
          height={12}
          fill={level !== null && k < level ? (level === 4 ? tones.red : tones.ink) : 'none'}
          stroke={level === null ? tones.line : tones.soft}
          strokeDasharray={level === null ? '2 2' : undefined}
        />
      ))}
    </svg>
  );
}
