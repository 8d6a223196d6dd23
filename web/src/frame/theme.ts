import { createTheme, Modal, Notification, type MantineColorsTuple } from '@mantine/core';

/** Achromatic greys: colour is kept for state, so that nothing tints the judgement of pictures. */
const ink: MantineColorsTuple = ['#f7f7f7', '#eeeeee', '#dedede', '#c9c9c9', '#a8a8a8', '#7d7d7d', '#5c5c5c', '#3f3f3f', '#2a2a2a', '#191919'];

export const theme = createTheme({
  fontFamily: "'Inter Variable', 'Liberation Sans', sans-serif",
  headings: { fontFamily: "'Source Serif 4 Variable', 'Liberation Serif', serif", fontWeight: '500' },
  colors: { ink, gray: ink },
  primaryColor: 'ink',
  primaryShade: 8,
  defaultRadius: 2,
  // Notifications and dialogs can be closed by who does not see them, too.
  components: { Modal: Modal.extend({ defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } }), Notification: Notification.extend({ defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } }) },
  fontSizes: { xs: '12px', sm: '13px', md: '14px' },
});
