/** Reads words out by the browser's own voice; silent where it has none. */
export function say(words: string): void {
  if (!('speechSynthesis' in window)) return;
  window.speechSynthesis.cancel();
  const said = new SpeechSynthesisUtterance(words);
  said.lang = 'en-GB';
  window.speechSynthesis.speak(said);
}
