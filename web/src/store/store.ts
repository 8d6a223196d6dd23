import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { api } from './api';
import { deskSlice } from './deskSlice';
import { gatherSlice } from './gatherSlice';
import { wallSlice } from './wallSlice';

export const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer, desk: deskSlice.reducer, gather: gatherSlice.reducer, wall: wallSlice.reducer },
  middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
});

export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<ReturnType<typeof store.getState>>();
