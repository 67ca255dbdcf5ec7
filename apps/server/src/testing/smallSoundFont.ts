/** The smallest SoundFont that holds together: one sample, one instrument, one preset (SoundFont Technical Specification 2.04). */

const chunk = (id: string, ...content: Buffer[]): Buffer => {
  const body = Buffer.concat(content);
  const head = Buffer.alloc(8);
  head.write(id, 'latin1');
  head.writeUInt32LE(body.length, 4);
  return Buffer.concat([head, body, Buffer.alloc(body.length % 2)]);
};

const list = (form: string, ...content: Buffer[]): Buffer => chunk('LIST', Buffer.from(form, 'latin1'), ...content);

/** Frames of the sample. */
const FRAMES = 64;

/** Its bytes; `end` is where the sample says it ends, and `tables` takes some of the tables out. */
export const smallSoundFont = ({ end = FRAMES, without = '' }: { end?: number; without?: string } = {}): Uint8Array => {
  const samples = Buffer.alloc(2 * FRAMES);
  for (let at = 0; at < FRAMES; at += 1) samples.writeInt16LE(Math.round(9000 * Math.sin(at / 3)), 2 * at);
  const header = Buffer.alloc(46);
  header.write('tone', 'latin1');
  header.writeUInt32LE(end, 24);
  header.writeUInt32LE(44_100, 36);
  header.writeUInt8(60, 40);
  header.writeUInt16LE(1, 44);
  const tables = Object.entries({
    phdr: Buffer.alloc(2 * 38),
    pbag: Buffer.alloc(2 * 4),
    pmod: Buffer.alloc(10),
    pgen: Buffer.alloc(2 * 4),
    inst: Buffer.alloc(2 * 22),
    ibag: Buffer.alloc(2 * 4),
    imod: Buffer.alloc(10),
    igen: Buffer.alloc(2 * 4),
    shdr: Buffer.concat([header, Buffer.alloc(46)]),
  }).filter(([id]) => id !== without);
  const lists = [
    list('INFO', chunk('ifil', Buffer.from([2, 0, 4, 0]))),
    list('sdta', chunk('smpl', samples)),
    list('pdta', ...tables.map(([id, table]) => chunk(id, table))),
  ];
  return new Uint8Array(chunk('RIFF', Buffer.from('sfbk', 'latin1'), ...lists));
};
