/** What white paint reflects, stops of red and of blue over green: it is a little warm (b* about 1). */
export const WHITE_OF_PAINT = { red: 0.007, blue: -0.026 } as const;
