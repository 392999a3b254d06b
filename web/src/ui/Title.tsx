/** The title of a page: what stands at its head stands in the window's title too. */
import Typography, { type TypographyProps } from '@mui/material/Typography';
import { useEffect, useRef } from 'react';

export function Title(props: TypographyProps) {
  const head = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    const said = head.current?.textContent?.replace(/\s+/g, ' ').trim();
    document.title = said ? `${said} · Barodex` : 'Barodex';
  });
  return <Typography variant="h1" component="h1" ref={head} {...props} />;
}
