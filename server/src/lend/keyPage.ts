/** The page that asks a browser for its key: small, and with nothing of what is kept here. @param wrong what was wrong with the one before */
export const keyPage = (wrong: string | null): string => `<!doctype html>
<html lang="en">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Zaddle: key</title>
<style>
body { font: 17px/1.5 system-ui, sans-serif; background: #f4f4f4; color: #222; margin: 0; display: grid; min-height: 100vh; place-items: center; }
form { background: #fff; border: 1px solid #d8d8d8; border-radius: 6px; padding: 28px 32px; width: min(30rem, 84vw); }
h1 { font-size: 22px; margin: 0 0 8px; } p { margin: 0 0 16px; } .wrong { color: #a3281c; }
label { display: block; font-weight: 600; margin-bottom: 4px; }
input { font: 18px ui-monospace, monospace; width: 100%; box-sizing: border-box; padding: 8px; border: 1px solid #858585; border-radius: 4px; }
button { font: inherit; margin-top: 16px; padding: 8px 20px; border: 0; border-radius: 4px; background: #2a2a2a; color: #fff; }
</style></head>
<body><form method="post" action="/key">
<h1>This Zaddle asks for a key</h1>
${wrong === null ? '' : `<p class="wrong" role="alert">${wrong}</p>`}
<p>It is made on the computer that Zaddle runs on: <em>Network</em> at the top of its page.</p>
<label for="key">Key</label>
<input id="key" name="key" autocomplete="off" autocapitalize="none" spellcheck="false" placeholder="00000-00000-00000-00000-00000-00000" required autofocus>
<button>Open</button>
</form></body></html>
`;
