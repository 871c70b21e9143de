import { Global, Module } from '@nestjs/common';
import { AllowedNetworks } from './allowedNetworks.js';

@Global()
@Module({ providers: [AllowedNetworks], exports: [AllowedNetworks] })
export class SecurityModule {}
