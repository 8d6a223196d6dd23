import { hasProfile, isEightBit, isLossy, NAME_TOKENS, ORDER_FILES, type Order, type OrderFile } from '@zaddle/document';
import { FILE_WORDS, PROFILE_WORDS, RATIOS } from '../outbox/orders';

interface FieldsProps {
  readonly order: Order;
  /** An order that ships is only looked at. */
  readonly fixed: boolean;
  readonly onChange: (changes: Partial<Order>) => void;
}

interface NumberProps {
  readonly label: string;
  readonly unit: string;
  /** What nothing means. */
  readonly nothing: string;
  readonly value: number | null;
  readonly disabled: boolean;
  readonly onChange: (value: number | null) => void;
}

/** A number that may be left out. */
function NumberField({ label, unit, nothing, value, disabled, onChange }: NumberProps) {
  return <label>{label}<span><input type="number" min={0} step="any" value={value ?? ''} placeholder={nothing} disabled={disabled} onChange={(e) => onChange(e.currentTarget.value === '' ? null : Number(e.currentTarget.value))} /> {unit}</span></label>;
}

/** A kind of file has not all that others have. */
function forFile(order: Order, file: OrderFile): Partial<Order> {
  const { longerSide, megapixels, profile, mostBytes, quality } = order;
  return { file, profile: hasProfile(file) ? profile : 'srgb', ...(isEightBit(file) ? { longerSide, megapixels } : { longerSide: null, megapixels: null }), ...(isLossy(file) ? { mostBytes, quality } : { mostBytes: null, quality: null }) };
}

/** What an order asks for, field by field: shape and size, file, names and words. */
export function OrderFields({ order, fixed, onChange }: FieldsProps) {
  const { client = '', file, ratio, longerSide, megapixels, mostBytes, quality, profile, ppi, naming, words } = order;
  const [sized, lossy] = [isEightBit(file), isLossy(file)];
  const own = ratio !== null && !RATIOS.some(([, value]) => Math.abs(value - ratio) < 1e-3);
  return (
    <div className="order-fields">
      <fieldset>
        <legend>Shape and size</legend>
        <label>Ratio<select value={ratio === null ? '' : own ? 'own' : RATIOS.find(([, value]) => Math.abs(value - ratio) < 1e-3)![0]} disabled={fixed} onChange={(e) => onChange({ ratio: RATIOS.find(([name]) => name === e.currentTarget.value)?.[1] ?? null })}>
          <option value="">as the picture is</option>{RATIOS.map(([name]) => <option key={name}>{name}</option>)}{own && <option value="own">{ratio.toFixed(3)}</option>}
        </select></label>
        <NumberField label="Longer side" unit="px at most" nothing="full size" value={longerSide} disabled={fixed || !sized} onChange={(value) => onChange({ longerSide: value })} />
        <NumberField label="Picture" unit="megapixels at most" nothing="any" value={megapixels} disabled={fixed || !sized} onChange={(value) => onChange({ megapixels: value })} />
        <NumberField label="Print" unit="pixels an inch" nothing="not said" value={ppi} disabled={fixed} onChange={(value) => onChange({ ppi: value })} />
      </fieldset>
      <fieldset>
        <legend>File</legend>
        <label>Kind<select value={file} disabled={fixed} onChange={(e) => onChange(forFile(order, e.currentTarget.value as OrderFile))}>{ORDER_FILES.map((each) => <option key={each} value={each}>{FILE_WORDS[each]}</option>)}</select></label>
        <NumberField label="Quality" unit="of 100" nothing="95" value={quality} disabled={fixed || !lossy} onChange={(value) => onChange({ quality: value })} />
        <NumberField label="File size" unit="kB at most" nothing="any" value={mostBytes === null ? null : mostBytes / 1000} disabled={fixed || !lossy} onChange={(value) => onChange({ mostBytes: value === null ? null : Math.round(value * 1000) })} />
        <label>Colours<select value={profile} disabled={fixed || !hasProfile(file)} onChange={(e) => onChange({ profile: e.currentTarget.value as Order['profile'] })}>{Object.entries(PROFILE_WORDS).map(([each, label]) => <option key={each} value={each}>{label}</option>)}</select></label>
      </fieldset>
      <fieldset className="wide">
        <legend>Names and words</legend>
        <label>Client<input value={client} placeholder="nobody in particular" maxLength={200} disabled={fixed} onChange={(e) => onChange({ client: e.currentTarget.value })} /></label>
        <label>File names<input value={naming ?? ''} placeholder="{room}-{output}" maxLength={200} disabled={fixed} onChange={(e) => onChange({ naming: e.currentTarget.value === '' ? null : e.currentTarget.value })} /></label>
        {!fixed && <div className="tokens">{NAME_TOKENS.map((token) => <button key={token} type="button" className="flat" title={token === 'number' ? 'Its place on the tour; {number:3} has three digits' : undefined} onClick={() => onChange({ naming: `${naming ?? ''}{${token}}` })}>{`{${token}}`}</button>)}</div>}
        <label>Title<input value={words.title} placeholder="none; {room}, {property}" maxLength={200} disabled={fixed} onChange={(e) => onChange({ words: { ...words, title: e.currentTarget.value } })} /></label>
        <label>Made by<input value={words.creator} placeholder="not said" maxLength={200} disabled={fixed} onChange={(e) => onChange({ words: { ...words, creator: e.currentTarget.value } })} /></label>
        <label>Copyright<input value={words.copyright} placeholder="not said" maxLength={200} disabled={fixed} onChange={(e) => onChange({ words: { ...words, copyright: e.currentTarget.value } })} /></label>
      </fieldset>
    </div>
  );
}
