import { Modal } from '@mantine/core';

const list: [string, string][] = [
  ['Space or Enter', 'the act on the orange button'],
  ['← →', 'look at the bolt before or after in this pass'],
  ['S', 'leave the bolt for later'],
  ['R', 'all the rest of a pass by hand in one press'],
  ['N', 'not right'],
  ['Z', 'take back the last record, with a reason'],
  ['H', 'stop the joint, with a reason'],
  ['W', 'open or close the working'],
  ['Alt 1 to 5', 'stations Read to Hand over'],
  ['G then T P J C B I R', 'Today, Shift, Joints, Crib, Bench, Library, Records'],
  ['/ or Ctrl K', 'find or do'],
  ['X', 'scan a code'],
  ['D', 'day, glare, night'],
  ['?', 'this list'],
];

export function KeyList({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal opened={opened} onClose={onClose} title="Keys">
      <table className="t">
        <tbody>
          {list.map(([k, what]) => (
            <tr key={k}>
              <td>
                <kbd>{k}</kbd>
              </td>
              <td>{what}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Modal>
  );
}
