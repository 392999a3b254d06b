/** The page's own words: said in English in the sources, one message each with its parameters, listed in `en.po`.
 *
 *  What the core says comes worded from the server. A language is chosen before the page begins: a sentence may be made where a module is read. */
import { setupI18n } from '@lingui/core';
import type { TransRenderProps } from '@lingui/react';
import { TransNoContext } from '@lingui/react/server';
import { type ComponentType, createElement, Fragment, type ReactElement } from 'react';

export const i18n = setupI18n({ locale: 'en', messages: { en: {} } });
if (import.meta.env.PROD) i18n.setMessagesCompiler((said) => said as never); // parsed at build time

type Props = {
  id: string;
  message?: string;
  values?: Record<string, unknown>;
  components?: Record<string, ReactElement>;
  component?: ComponentType<TransRenderProps>;
};

/** A sentence with elements in it. What people typed is put in as it is: a vehicle called “<0/>” is no element. */
export function Trans({ values, ...rest }: Props) {
  const safe =
    values &&
    Object.fromEntries(Object.entries(values).map(([name, value]) => [name, typeof value === 'string' ? createElement(Fragment, null, value) : value]));
  return <TransNoContext {...rest} values={safe} lingui={{ i18n }} />;
}
